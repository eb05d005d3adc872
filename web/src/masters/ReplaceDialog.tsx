import { ticks } from '@oiseau/audio/time';
import { masterTicks } from '@oiseau/album/model';
import { replaceMaster } from '@oiseau/album/edits';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Alert, Button, Modal, ProgressBar } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { playersOf, playersText, songName } from '../album/song-name.js';
import { CONTRACT, type MasterRecord } from '@oiseau/api';
import { call } from '../api/client.js';
import { mastersKey } from '../api/queries.js';
import { takeIn } from './take-in.js';
import { isMono } from './uploads.js';
import { sendByPieces } from '../api/upload.js';
import { Measuring } from './Measuring.js';
import { replacementRows, type ReplacementRow } from './replacement.js';
import { FileInput } from '../ui/FileInput.js';
import { t } from '../ui/messages.js';
import { clockText } from '../ui/format.js';

/** A newer file on its way into the album, as the replacement of a master. @param onHide ends the dialog */
function useReplacement(master: MasterRecord, onHide: () => void) {
  const { id, mastersById, edit } = useAlbum('id', 'mastersById', 'edit');
  const queries = useQueryClient();
  const navigate = useNavigate();
  const stop = useRef<AbortController | null>(null);
  const [share, setShare] = useState<number | null>(null);
  const [mono, setMono] = useState<{ file: File; upload: string } | null>(null);
  const [candidate, setCandidate] = useState<string | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  useEffect(() => () => stop.current?.abort(), []);

  const send = async (file: File): Promise<void> => {
    setFailure(null);
    setShare(0);
    stop.current = new AbortController();
    try {
      await take(file, await sendByPieces(file, setShare, stop.current.signal), false);
    } finally {
      setShare(null);
    }
  };
  const take = async (file: File, upload: string, agreed: boolean): Promise<void> => {
    setMono(null);
    try {
      const order = { upload, name: file.name, mono: agreed, replaces: master.sha256 };
      const signal = stop.current?.signal ?? new AbortController().signal;
      const { sha256 } = await takeIn(id, order, setShare, signal);
      await queries.invalidateQueries({ queryKey: mastersKey(id) });
      setCandidate(sha256);
    } catch (error) {
      if (isMono(error)) setMono({ file, upload });
      else throw error;
    }
  };
  const say = (error: unknown): void => setFailure(error instanceof Error ? error.message : String(error));

  const newer = candidate === null ? undefined : mastersById.get(candidate);
  const accept = (): void => {
    if (!newer) return;
    edit(t('“{name}” replaced by “{name2}”', { name: master.name, name2: newer.name }), (before) =>
      replaceMaster(before, master.sha256, newer.sha256),
    );
    onHide();
    void navigate(`/albums/${id}/masters/${newer.sha256}`);
  };
  /** A rejected candidate is removed from the album. */
  const giveUp = (): void => {
    stop.current?.abort();
    if (candidate !== null)
      void call(CONTRACT.removeMaster, { params: { id, sha256: candidate } })
        .catch(() => undefined)
        .then(() => queries.invalidateQueries({ queryKey: mastersKey(id) }));
    onHide();
  };
  return {
    ...{ share, mono, newer, failure, accept, giveUp },
    isChoosing: share === null && !mono && candidate === null,
    send: (file: File): void => void send(file).catch(say),
    /** Takes a mono file for both channels. */
    agree: (): void => {
      if (mono) take(mono.file, mono.upload, true).catch(say);
    },
  };
}

/**
 * Replaces a master by a newer file: what differs is shown before it is accepted. Tracks keep trims, gaps and text; both versions
 * stay in the album.
 */
export function ReplaceDialog({ master, onHide }: { master: MasterRecord; onHide: () => void }) {
  const { parts } = useAlbum('parts');
  const input = useRef<HTMLInputElement>(null);
  const { share, mono, newer, failure, isChoosing, send, agree, accept, giveUp } = useReplacement(
    master,
    onHide,
  );
  const playedBy = playersOf(parts, master.sha256);
  return (
    <Modal show onHide={giveUp} size="lg" aria-labelledby="replace-title">
      <Modal.Header closeButton>
        <Modal.Title id="replace-title">{t('Replace “{name}”', { name: master.name })}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {failure && <Alert variant="danger">{failure}</Alert>}
        {share !== null && (
          <>
            <p>{t('Uploading the newer file.')}</p>
            <ProgressBar now={100 * share} aria-label={t('Newer file')} />
          </>
        )}
        {mono && (
          <Alert variant="warning">
            {t('“{name}” is mono.', { name: mono.file.name })}{' '}
            <Button size="sm" onClick={agree}>
              {t('Use on both channels')}
            </Button>
          </Alert>
        )}
        {isChoosing && (
          <>
            <p>
              {playedBy.length > 0 &&
                `${t('The newer file will be used by {tracks}; trims, gaps and text are kept.', { tracks: playersText(playedBy) })} `}
              {t('The previous version is kept, and this can be undone.')}
            </p>
            <FileInput ref={input} label={t('Newer file')} onFile={send} />
            <Button onClick={() => input.current?.click()}>{t('Choose the newer file')}</Button>
          </>
        )}
        {newer && !newer.measurement && <Measuring master={newer} />}
        {newer?.measurement && <Comparison older={master} newer={newer} />}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={giveUp}>
          {t('Cancel')}
        </Button>
        <Button disabled={!newer?.measurement} onClick={accept}>
          {t('Replace')}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

function Comparison({ older, newer }: { older: MasterRecord; newer: MasterRecord }) {
  const { album, parts } = useAlbum('album', 'parts');
  const end = masterTicks(newer.info);
  const cut = album.songs.flatMap(({ id, region: { master, out } }) =>
    master === older.sha256 && (out ?? 0) > end
      ? [{ name: songName(parts, id), by: ticks((out ?? 0) - end) }]
      : [],
  );
  return (
    <>
      <table className="table comparison">
        <thead>
          <tr>
            <th />
            <th className="num">{older.name}</th>
            <th className="num">{newer.name}</th>
            <th>{t('Difference')}</th>
          </tr>
        </thead>
        <tbody>
          {replacementRows(older, newer).map((row) => (
            <Row key={row.name} row={row} />
          ))}
        </tbody>
      </table>
      {cut.map(({ name, by }) => (
        <Alert key={name} variant="warning">
          {t('The out point of {track} is {by} after the end of the newer file. Move it.', {
            track: name,
            by: clockText(by, 3),
          })}
        </Alert>
      ))}
    </>
  );
}

function Row({ row: { name, older, newer, difference } }: { row: ReplacementRow }) {
  return (
    <tr className={difference ? 'differs' : undefined}>
      <th scope="row">{name}</th>
      <td className="num">{older}</td>
      <td className="num">{newer}</td>
      <td>{difference ?? <span className="text-secondary">{t('unchanged')}</span>}</td>
    </tr>
  );
}
