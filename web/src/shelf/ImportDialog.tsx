import { CONTRACT, type AnswerOf } from '@oiseau/api';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useEffectEvent, useState } from 'react';
import { Alert, Button, Form, Modal, ProgressBar } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { call } from '../api/client.js';
import { shelfKey } from '../api/queries.js';
import { sendByPieces } from '../api/upload.js';
import { t } from '../ui/messages.js';

type Needed = AnswerOf<typeof CONTRACT.neededMasters>[number];

const baseName = (name: string): string => name.replace(/^.*[/\\]/, '');

interface ImportDialogProps {
  readonly show: boolean;
  /** Files that were dropped on the Shelf. */
  readonly dropped: readonly File[] | null;
  readonly onHide: () => void;
}

/** An album file that was chosen, the masters that it needs, and the way into an album. @param dropped files that were dropped on the Shelf */
function useAlbumFile(dropped: readonly File[] | null) {
  const [text, setText] = useState<string | null>(null);
  const [needed, setNeeded] = useState<readonly Needed[]>([]);
  const [masters, setMasters] = useState<ReadonlyMap<string, File>>(new Map());
  const [progress, setProgress] = useState<number | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const say = (error: unknown): void => setFailure(error instanceof Error ? error.message : String(error));

  const choose = async (files: readonly File[]): Promise<void> => {
    setFailure(null);
    const file = files.find(({ name }) => /\.json$/i.test(name));
    const found = new Map([
      ...masters,
      ...files.filter((one) => one !== file).map((one) => [one.name, one] as const),
    ]);
    setMasters(found);
    if (!file) return;
    const content = await file.text();
    setNeeded(await call(CONTRACT.neededMasters, { body: { file: content } }));
    setText(content);
  };

  const onDropped = useEffectEvent((files: readonly File[]) => void choose(files).catch(say));
  useEffect(() => {
    if (dropped) onDropped(dropped);
  }, [dropped]);

  const missing = needed.filter(({ name, here }) => !here && !masters.has(baseName(name)));

  const open = async (): Promise<void> => {
    setFailure(null);
    // The masters go in first: the album is only made when all of them are there.
    try {
      const sent: Record<string, string> = {};
      const chosen = needed.flatMap(({ name }) => {
        const file = masters.get(baseName(name));
        return file ? [{ name, file }] : [];
      });
      for (const [i, { name, file }] of chosen.entries()) {
        const upload = await sendByPieces(
          file,
          (share) => setProgress((i + share) / chosen.length),
          new AbortController().signal,
        );
        // An album file implies consent to its masters.
        const { sha256 } = await call(CONTRACT.storeMaster, {
          body: { upload, name: file.name, mono: true },
        });
        sent[name] = sha256;
      }
      const { id } = await call(CONTRACT.importAlbum, { body: { file: text ?? '', masters: sent } });
      await queries.invalidateQueries({ queryKey: shelfKey });
      await navigate(`/albums/${id}/sequence`);
    } finally {
      setProgress(null);
    }
  };

  return {
    ...{ needed, masters, progress, failure },
    isReady: text !== null && missing.length === 0 && progress === null,
    choose: (files: readonly File[]): void => void choose(files).catch(say),
    open: (): void => void open().catch(say),
  };
}

/** Opens an album file: chosen together with its masters, or with masters that are on the Shelf already. */
export function ImportDialog({ show, dropped, onHide }: ImportDialogProps) {
  const { needed, masters, progress, failure, isReady, choose, open } = useAlbumFile(dropped);
  return (
    <Modal show={show} onHide={onHide} aria-labelledby="import-title">
      <Modal.Header closeButton>
        <Modal.Title id="import-title">{t('Open an album file')}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Form.Group controlId="import-files">
          <Form.Label>{t('Album file (.json) and the masters beside it')}</Form.Label>
          <Form.Control
            type="file"
            multiple
            accept=".json,.wav,.wave,.bwf,.rf64"
            onChange={(event) => {
              const { files } = event.target as HTMLInputElement;
              choose([...(files ?? [])]);
            }}
          />
        </Form.Group>
        {needed.length > 0 && (
          <ul className="import-list mt-3">
            {needed.map(({ name, here }) => (
              <li key={name}>
                {name}{' '}
                <span className="text-secondary">
                  {masters.has(baseName(name))
                    ? t('chosen')
                    : here
                      ? t('already stored')
                      : t('missing; select it as well')}
                </span>
              </li>
            ))}
          </ul>
        )}
        {progress !== null && (
          <ProgressBar className="mt-3" now={100 * progress} aria-label={t('Uploading masters')} />
        )}
        {failure && (
          <Alert variant="danger" className="mt-3 mb-0">
            {failure}
          </Alert>
        )}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="link" onClick={onHide}>
          {t('Cancel')}
        </Button>
        <Button disabled={!isReady} onClick={open}>
          {t('Open')}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
