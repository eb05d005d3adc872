import { safeFileName } from '@oiseau/album/model';
import { writeCells } from '@oiseau/formats/tags';
import { useRef, useState } from 'react';
import { Button, Modal } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { count } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';
import { saveText } from '../ui/save-text.js';
import { albumToCsv, readCsv, type CsvReading } from './csv.js';
import { FileInput } from '../ui/FileInput.js';

/** The words as a CSV file, out, and in again after a look at what would change. */
export function CsvButtons() {
  const { album, edit } = useAlbum('album', 'edit');
  const { complain } = useNotices();
  const input = useRef<HTMLInputElement>(null);
  const [reading, setReading] = useState<(CsvReading & { readonly file: string }) | null>(null);
  const save = (): void => saveText(`${safeFileName(album.title)}.csv`, 'text/csv', albumToCsv(album));
  const take = ({ changes, file }: CsvReading & { readonly file: string }): void => {
    edit(`${count(changes.length, 'cell')} from ${file}`, (before) =>
      writeCells(
        before,
        changes.map(({ edit: cell }) => cell),
      ),
    );
    setReading(null);
  };
  return (
    <>
      <Button size="sm" variant="outline-primary" title="Export all text and codes as CSV" onClick={save}>
        Export CSV
      </Button>
      <Button size="sm" variant="outline-primary" onClick={() => input.current?.click()}>
        Import CSV …
      </Button>
      <FileInput
        ref={input}
        label="CSV file"
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
              <p className="mb-0">The file changes nothing.</p>
            ) : (
              <table className="table">
                <tbody>
                  {reading.changes.map(({ place, name, from, to }) => (
                    <tr key={`${place} ${name}`}>
                      <th scope="row">{place}</th>
                      <td>{name}</td>
                      <td className="text-secondary">{from || 'nothing'}</td>
                      <td>{to || 'nothing'}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
          </Modal.Body>
          <Modal.Footer>
            <Button variant="outline-primary" onClick={() => setReading(null)}>
              Cancel
            </Button>
            <Button disabled={reading.changes.length === 0} onClick={() => take(reading)}>
              Change {count(reading.changes.length, 'cell')}
            </Button>
          </Modal.Footer>
        </Modal>
      )}
    </>
  );
}
