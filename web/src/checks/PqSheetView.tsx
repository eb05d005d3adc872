import { addressOf, CONTRACT } from '@oiseau/api';
import {
  flagWords,
  formatMsf,
  isDisc,
  partName,
  pqSheet,
  safeFileName,
  type DiscPart,
  type PqSheet,
} from '@oiseau/core';
import Papa from 'papaparse';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { saveText } from '../ui/save-text.js';
import { PqTable, two } from './PqTable.js';
import { SideSheet } from './SideSheet.js';

/** The part in hand on a sheet: a disc by its marks, a side as a cutting room reads it. */
export function PqSheetView() {
  const { part } = useAlbum('part');
  return isDisc(part) ? <DiscSheet disc={part} /> : <SideSheet part={part} />;
}

/** The marks of a disc for people: on screen, as PDF and as CSV. */
function DiscSheet({ disc }: { disc: DiscPart }) {
  const { id, album, saveNow } = useAlbum('id', 'album', 'saveNow');
  const sheet = pqSheet(album, disc);
  const name = disc.of > 1 ? `${album.title} ${partName(disc)}` : album.title;
  const asPdf = async (): Promise<void> => {
    // The server prints what it has: it is told of the last edit first.
    await saveNow();
    window.location.assign(addressOf(CONTRACT.pqSheet, { params: { id }, query: { part: disc.number } }));
  };
  return (
    <div className="pq-sheet">
      <div className="view-head">
        <h2>PQ sheet{disc.of > 1 && `: ${partName(disc)}`}</h2>
        <span className="flex-grow-1" />
        <Link className="btn btn-outline-primary btn-sm" to={`/albums/${id}/checks`}>
          To the Checks
        </Link>
        <Button
          size="sm"
          variant="outline-primary"
          onClick={() => saveText(`${safeFileName(name)} PQ sheet.csv`, 'text/csv', pqCsv(sheet))}
        >
          CSV
        </Button>
        <Button size="sm" onClick={() => void asPdf()}>
          PDF
        </Button>
      </div>
      <PqTable sheet={sheet} />
    </div>
  );
}

/** A row for each mark; times as MM:SS:FF. */
function pqCsv({ tracks, leadOut }: PqSheet): string {
  const rows = tracks.flatMap((track) => [
    ...(track.pause === null
      ? []
      : [[track.number, '00', formatMsf(track.pause), formatMsf(track.pauseLength), '', '', '', '']]),
    [
      track.number,
      '01',
      formatMsf(track.start),
      formatMsf(track.length),
      track.title,
      track.performer,
      track.isrc,
      flagWords(track),
    ],
    ...track.indexes.map((at, i) => [track.number, two(i + 2), formatMsf(at), '', '', '', '', '']),
  ]);
  const head = ['Track', 'Index', 'Starts at', 'Lasts', 'Title', 'Performer', 'ISRC', 'Flags'];
  const text = Papa.unparse([head, ...rows, ['AA', '01', formatMsf(leadOut), '', 'lead-out', '', '', '']], {
    newline: '\r\n',
  });
  return `\uFEFF${text}\r\n`;
}
