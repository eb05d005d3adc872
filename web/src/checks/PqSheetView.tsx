import { flagWords, formatMsf, pqSheet, safeFileName, type PqSheet } from '@oiseau/core';
import Papa from 'papaparse';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { count } from '../ui/format.js';
import { saveText } from '../ui/save-text.js';

const two = (index: number): string => String(index).padStart(2, '0');

/** The marks of the disc for people: on screen, as PDF and as CSV. */
export function PqSheetView() {
  const { id, album, layout, saveNow } = useAlbum();
  const sheet = pqSheet(album, layout);
  const asPdf = async (): Promise<void> => {
    // The server prints what it has: it is told of the last edit first.
    await saveNow();
    window.location.assign(`/api/albums/${id}/pq-sheet.pdf`);
  };
  return (
    <div className="pq-sheet">
      <div className="view-head">
        <h2>PQ sheet</h2>
        <span className="flex-grow-1" />
        <Link className="btn btn-outline-primary btn-sm" to={`/albums/${id}/checks`}>
          To the Checks
        </Link>
        <Button
          size="sm"
          variant="outline-primary"
          onClick={() => saveText(`${safeFileName(album.title)} PQ sheet.csv`, 'text/csv', pqCsv(sheet))}
        >
          CSV
        </Button>
        <Button size="sm" onClick={() => void asPdf()}>
          PDF
        </Button>
      </div>
      <p className="pq-facts">
        <b>{sheet.title || 'Untitled'}</b> {sheet.performer}
        {sheet.upc && <span>UPC/EAN {sheet.upc}</span>}
        {sheet.catalogNumber && <span>{sheet.catalogNumber}</span>}
        {sheet.disc && <span>disc {sheet.disc}</span>}
        <span>{count(sheet.tracks.length, 'track')}</span>
        <span>
          plays <b>{formatMsf(sheet.playing)}</b>
        </span>
      </p>
      <table className="table pq-table">
        <thead>
          <tr>
            <th className="num">Track</th>
            <th className="num">Index</th>
            <th className="num">Starts at</th>
            <th className="num">Lasts</th>
            <th>Title and performer</th>
            <th>ISRC</th>
            <th>Flags</th>
          </tr>
        </thead>
        {sheet.tracks.map((track) => (
          <tbody key={track.number}>
            {track.pause !== null && (
              <tr className="minor">
                <td />
                <td className="num">00</td>
                <td className="num">{formatMsf(track.pause)}</td>
                <td className="num">{formatMsf(track.pauseLength)}</td>
                <td colSpan={3}>pause</td>
              </tr>
            )}
            <tr>
              <td className="num">{track.number}</td>
              <td className="num">01</td>
              <td className="num">{formatMsf(track.start)}</td>
              <td className="num">{formatMsf(track.length)}</td>
              <td>
                {track.title || 'Untitled'} <span className="text-secondary">{track.performer}</span>
              </td>
              <td>{track.isrc}</td>
              <td>{flagWords(track)}</td>
            </tr>
            {track.indexes.map((at, i) => (
              <tr key={at} className="minor">
                <td />
                <td className="num">{two(i + 2)}</td>
                <td className="num">{formatMsf(at)}</td>
                <td colSpan={4} />
              </tr>
            ))}
          </tbody>
        ))}
        <tfoot>
          <tr>
            <td />
            <td />
            <td className="num">{formatMsf(sheet.leadOut)}</td>
            <td />
            <td colSpan={3}>lead-out</td>
          </tr>
        </tfoot>
      </table>
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
