import type { ReaderLanguage } from '@oiseau/messages';
import { encodeCsv, wordPaper, type Paper } from '@oiseau/formats/disc';
import { safeFileName } from '@oiseau/album/model';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { saveText } from '../ui/save-text.js';
import { t, translator } from '../ui/messages.js';
import { PaperLanguage } from '../ui/PaperLanguage.js';
import { usePaperLanguage } from '../ui/usePaperLanguage.js';

interface SheetProps {
  readonly paper: Paper;
  /** For machines, a line of names first; null while it is not whole. */
  readonly rows: readonly (readonly string[])[] | null;
  /** The address of the same for print. */
  readonly pdf: (language: ReaderLanguage) => string;
  /** The view that it belongs to, and its name. */
  readonly back: readonly [path: string, name: string];
  /** What is still to come. */
  readonly pending?: string | undefined;
}

/** A sheet for people: on screen as it is printed, as PDF and as CSV. */
export function PaperSheet({ paper, rows, pdf, back: [path, view], pending }: SheetProps) {
  const { id, saveNow } = useAlbum('id', 'saveNow');
  const { title, author, kind, facts, columns, rows: lines, notes } = wordPaper(paper, translator);
  const [language, setLanguage] = usePaperLanguage();
  const asPdf = async (): Promise<void> => {
    // The server prints what it has: it is told of the last edit first.
    await saveNow();
    window.location.assign(pdf(language));
  };
  const asCsv = (): void => {
    if (rows)
      saveText(
        `${safeFileName(`${title} ${kind}`)}.csv`,
        'text/csv',
        new TextDecoder().decode(encodeCsv(rows)),
      );
  };
  return (
    <div className="paper-sheet">
      <div className="view-head">
        <h2>{kind}</h2>
        <span className="flex-grow-1" />
        <Link className="btn btn-outline-primary btn-sm" to={`/albums/${id}/${path}`}>
          {t('Back to {view}', { view })}
        </Link>
        <Button size="sm" variant="outline-primary" disabled={!rows} onClick={asCsv}>
          {t('CSV')}
        </Button>
        <PaperLanguage value={language} onChange={setLanguage} />
        <Button size="sm" disabled={!rows} onClick={() => void asPdf()}>
          {t('PDF')}
        </Button>
      </div>
      <p className="pq-facts">
        <b>{title || t('Untitled')}</b> {author}
        {facts
          .filter(([, value]) => value !== '')
          .map(([name, value]) => (
            <span key={name}>
              {name} {value}
            </span>
          ))}
      </p>
      {pending && <p className="text-secondary">{pending}</p>}
      <table className="table pq-table">
        <thead>
          <tr>
            {columns.map(({ name, share, isNumber }) => (
              <th key={name} className={isNumber ? 'num' : ''} style={{ width: `${share}%` }}>
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {lines.map(({ cells, isStrong }, i) => (
            <tr key={i} className={isStrong ? 'strong' : ''}>
              {columns.map(({ name, isNumber }, column) => (
                <td key={name} className={isNumber ? 'num lines' : 'lines'}>
                  {cells[column] ?? ''}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {notes.map((note) => (
        <p key={note} className="text-secondary">
          {note}
        </p>
      ))}
    </div>
  );
}
