import { addressOf, CONTRACT } from '@oiseau/api';
import { isDisc, type DiscPart } from '@oiseau/album/layout';
import { partName, safeFileName } from '@oiseau/album/model';
import { pqSheet } from '@oiseau/formats/disc';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { saveText } from '../ui/save-text.js';
import { pqCsv } from './pq-csv.js';
import { PqTable } from './PqTable.js';
import { SideSheet } from './SideSheet.js';
import { say, t } from '../ui/messages.js';
import { PaperLanguage } from '../ui/PaperLanguage.js';
import { usePaperLanguage } from '../ui/usePaperLanguage.js';

/** The part in hand on a sheet: a disc by its marks, a side as a cutting room reads it. */
export function PqSheetView() {
  const { part } = useAlbum('part');
  return isDisc(part) ? <DiscSheet disc={part} /> : <SideSheet part={part} />;
}

/** The marks of a disc for people: on screen, as PDF and as CSV. */
function DiscSheet({ disc }: { disc: DiscPart }) {
  const { id, album, edition, saveNow } = useAlbum('id', 'album', 'edition', 'saveNow');
  const [language, setLanguage] = usePaperLanguage();
  const sheet = pqSheet(album, disc);
  const name = disc.of > 1 ? t('{title} {part}', { title: album.title, part: partName(disc) }) : album.title;
  const asPdf = async (): Promise<void> => {
    // The server prints what it has: it is told of the last edit first.
    await saveNow();
    window.location.assign(
      addressOf(CONTRACT.pqSheet, { params: { id }, query: { part: disc.number, language, edition } }),
    );
  };
  return (
    <div className="pq-sheet">
      <div className="view-head">
        <h2>
          {t('PQ sheet')}
          {disc.of > 1 && `: ${say(partName(disc))}`}
        </h2>
        <span className="flex-grow-1" />
        <Link className="btn btn-outline-primary btn-sm" to={`/albums/${id}/checks`}>
          {t('Back to Checks')}
        </Link>
        <Button
          size="sm"
          variant="outline-primary"
          onClick={() => saveText(`${safeFileName(name)} PQ sheet.csv`, 'text/csv', pqCsv(sheet))}
        >
          {t('CSV')}
        </Button>
        <PaperLanguage value={language} onChange={setLanguage} />
        <Button size="sm" onClick={() => void asPdf()}>
          {t('PDF')}
        </Button>
      </div>
      <PqTable sheet={sheet} />
    </div>
  );
}
