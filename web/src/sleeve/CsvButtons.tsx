import { safeFileName } from '@oiseau/album/model';
import { writeCells } from '@oiseau/formats/tags';
import { useRef, useState } from 'react';
import { Button, Modal } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { useNotices } from '../ui/Notices.js';
import { saveText } from '../ui/save-text.js';
import { albumToCsv, readCsv, type CsvReading } from './csv.js';
import { FileInput } from '../ui/FileInput.js';
import { t } from '../ui/messages.js';

/** The words as a CSV file, out, and in again after a look at what would change. */
export function CsvButtons() {
  const { album, edit } = useAlbum('album', 'edit');
  const { complain } = useNotices();
  const input = useRef<HTMLInputElement>(null);
  const [reading, setReading] = useState<(CsvReading & { readonly file: string }) | null>(null);
  const save = (): void => saveText(`${safeFileName(album.title)}.csv`, 'text/csv', albumToCsv(album));
  const take = ({ changes, file }: CsvReading & { readonly file: string }): void => {
    edit(
      t('{count, plural, one {# cell} other {# cells}} from {file}', { count: changes.length, file }),
      (before) =>
        writeCells(
          before,
          changes.map(({ edit: cell }) => cell),
        ),
    );
    setReading(null);
  };
  return (
    <>
      <Button
        size="sm"
        variant="outline-primary"
        title={t('Export all text and codes as CSV')}
        onClick={save}
      >
        {t('Export CSV')}
      </Button>
      <Button size="sm" variant="outline-primary" onClick={() => input.current?.click()}>
        {t('Import CSV …')}
      </Button>
      <FileInput
        ref={input}
        label={t('CSV file')}
        accept=".csv,text/csv"
        onFile={(file) =>
          void file
            .text()
            .then((text) => setReading({ ...readCsv(album, text), file: file.name }))
            .catch(complain)
        }
      />
      {reading && (
        <Modal show onHide={() => setReading(null)} size="lg" scrollable aria-labelledby="csv-title">
          <Modal.Header closeButton>
            <Modal.Title id="csv-title">{reading.file}</Modal.Title>
          </Modal.Header>
          <Modal.Body>
            {reading.problems.map((problem) => (
              <p key={problem} className="text-danger mb-1">
                {problem}
              </p>
            ))}
            {reading.changes.length === 0 ? (
              <p className="mb-0">{t('The file changes nothing.')}</p>
            ) : (
              <table className="table">
                <tbody>
                  {reading.changes.map(({ place, name, from, to }) => (
                    <tr key={`${place} ${name}`}>
                      <th scope="row">{place}</th>
                      <td>{name}</td>
                      <td className="text-secondary">{from || t('nothing')}</td>
                      <td>{to || t('nothing')}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
          </Modal.Body>
          <Modal.Footer>
            <Button variant="outline-primary" onClick={() => setReading(null)}>
              {t('Cancel')}
            </Button>
            <Button disabled={reading.changes.length === 0} onClick={() => take(reading)}>
              {t('Change {count, plural, one {# cell} other {# cells}}', { count: reading.changes.length })}
            </Button>
          </Modal.Footer>
        </Modal>
      )}
    </>
  );
}
