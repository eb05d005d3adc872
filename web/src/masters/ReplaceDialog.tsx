import { formatClock, ticks } from '@oiseau/audio/time';
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
    edit(`“${master.name}” replaced by “${newer.name}”`, (before) =>
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
        <Modal.Title id="replace-title">Replace “{master.name}”</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {failure && <Alert variant="danger">{failure}</Alert>}
        {share !== null && (
          <>
            <p>Uploading the newer file.</p>
            <ProgressBar now={100 * share} aria-label="Newer file" />
          </>
        )}
        {mono && (
          <Alert variant="warning">
            “{mono.file.name}” is mono.{' '}
            <Button size="sm" onClick={agree}>
              Use on both channels
            </Button>
          </Alert>
        )}
        {isChoosing && (
          <>
            <p>
              {playedBy.length > 0
                ? `${sentence(playersText(playedBy))} will use the newer file and keep its trims, gaps and text. `
                : ''}
              The previous version is kept, and this can be undone.
            </p>
            <FileInput ref={input} label="Newer file" onFile={send} />
            <Button onClick={() => input.current?.click()}>Choose the newer file</Button>
          </>
        )}
        {newer && !newer.measurement && <Measuring master={newer} />}
        {newer?.measurement && <Comparison older={master} newer={newer} />}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={giveUp}>
          Cancel
        </Button>
        <Button disabled={!newer?.measurement} onClick={accept}>
          Replace
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

/** Words as the beginning of a sentence. */
const sentence = (words: string): string => `${words.charAt(0).toUpperCase()}${words.slice(1)}`;

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
            <th>Difference</th>
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
          {sentence(name)} ends {formatClock(by, 3)} after the end of the newer file. Move its out point.
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
      <td>{difference ?? <span className="text-secondary">unchanged</span>}</td>
    </tr>
  );
}
