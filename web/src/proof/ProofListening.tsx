import {
  audioFiles,
  formatClock,
  layOutAlbum,
  planDeliverable,
  secondsToTicks,
  type Part,
  type Plan,
} from '@oiseau/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { useRevision } from '../api/queries.js';
import { useVisitor } from '../access/VisitorContext.js';
import { addressOf, CONTRACT, mayDo, type DeliveryRecord, type NoteRecord } from '@oiseau/api';
import { DraftField } from '../ui/DraftField.js';
import { useNotices } from '../ui/Notices.js';
import { useShortcuts } from '../ui/useShortcuts.js';
import { usePlayer } from '../player/PlayerContext.js';
import { audioOf, isHeard, partOf, trackOfMoment, tracksInFile, type FilePlace } from './listening.js';

/** The plan that a delivery was rendered by, from its revision. */
function useDeliveredPlan(delivery: DeliveryRecord): { plan: Plan; parts: readonly Part[] } | null {
  const { revision, deliverable } = delivery;
  const rendered = useRevision(useAlbum('id').id, revision);
  return useMemo(() => {
    if (!rendered) return null;
    const { album } = rendered;
    const masters = new Map(Object.entries(rendered.masters));
    const parts = layOutAlbum(album, masters);
    return { parts, plan: planDeliverable(deliverable, { album, parts, masters, revision }) };
  }, [rendered, deliverable, revision]);
}

/** The last listen: the rendered file itself, with the album's marks and notes that lead back to their place. */
export function ProofListening({ delivery }: { delivery: DeliveryRecord }) {
  const delivered = useDeliveredPlan(delivery);
  const files = delivered ? audioFiles(delivered.plan).filter(isHeard) : [];
  const [chosen, setChosen] = useState<string | null>(null);
  const file = files.find(({ path }) => path === chosen) ?? files[0];
  const notes = useNotes(delivery.id);
  const audio = useRef<HTMLAudioElement>(null);
  const player = usePlayer();
  const note = (): void => {
    if (!file || !audio.current) return;
    void notes.add({ path: file.path, seconds: audio.current.currentTime, text: '' });
  };
  useShortcuts({ M: note }, true);
  if (!delivered || !file)
    return delivered ? (
      <p className="text-secondary">A browser plays neither AIFF nor ALAC; listen to another deliverable.</p>
    ) : null;
  const { parts, plan } = delivered;
  const part = partOf(parts, file);
  const momentOf = ({ path, seconds }: NoteRecord): FilePlace | undefined => {
    const noted = audioOf(plan, path) ?? file;
    const of = partOf(parts, noted);
    return of && trackOfMoment(of, noted, seconds);
  };
  const go = (seconds: number): void => {
    if (!audio.current) return;
    audio.current.currentTime = seconds;
    void audio.current.play();
  };
  return (
    <section className="listening" aria-label="Proof listening">
      <h3>The last listen</h3>
      <div className="listening-head">
        {files.length > 1 && (
          <Form.Select
            size="sm"
            aria-label="File to hear"
            value={file.path}
            onChange={({ target }) => setChosen(target.value)}
          >
            {files.map(({ path }) => (
              <option key={path}>{path}</option>
            ))}
          </Form.Select>
        )}
        <audio
          ref={audio}
          controls
          preload="metadata"
          aria-label={`Rendered file ${file.path}`}
          src={addressOf(CONTRACT.listen, { params: { id: delivery.id, path: file.path } })}
          // Two things sounding at once would judge neither.
          onPlay={() => player.stop()}
        />
        <Button size="sm" variant="outline-primary" title="Note this moment (M)" onClick={note}>
          Note this moment
        </Button>
      </div>
      <div className="listening-marks">
        {(part ? tracksInFile(part, file) : []).map(({ id, number, seconds }) => (
          <button key={id} type="button" title={`Hear from track ${number}`} onClick={() => go(seconds)}>
            {number} <span>{formatClock(secondsToTicks(seconds))}</span>
          </button>
        ))}
      </div>
      <ul className="note-list" aria-label="Notes">
        {notes.all.map((each) => (
          <NoteRow
            key={each.id}
            note={each}
            track={momentOf(each)}
            onHear={() => {
              setChosen(each.path);
              // The other file is only there after the next drawing.
              requestAnimationFrame(() => go(each.seconds));
            }}
            onWrite={(text) => notes.write(each.id, text)}
            onRemove={() => notes.remove(each.id)}
          />
        ))}
      </ul>
    </section>
  );
}

function useNotes(deliveryId: string) {
  const queries = useQueryClient();
  const { complain } = useNotices();
  const key = ['notes', deliveryId];
  const { data } = useQuery({
    queryKey: key,
    queryFn: () => call(CONTRACT.notes, { params: { id: deliveryId } }),
  });
  const then = (done: Promise<unknown>): Promise<void> =>
    done.then(() => queries.invalidateQueries({ queryKey: key }), complain);
  return {
    all: data ?? [],
    add: (note: Pick<NoteRecord, 'path' | 'seconds' | 'text'>) =>
      then(call(CONTRACT.addNote, { params: { id: deliveryId }, body: note })),
    write: (id: string, text: string) =>
      void then(call(CONTRACT.writeNote, { params: { id }, body: { text } })),
    remove: (id: string) => void then(call(CONTRACT.removeNote, { params: { id } })),
  };
}

function NoteRow({
  note,
  track,
  onHear,
  onWrite,
  onRemove,
}: {
  note: NoteRecord;
  track: FilePlace | undefined;
  onHear: () => void;
  onWrite: (text: string) => void;
  onRemove: () => void;
}) {
  const { id: albumId } = useAlbum('id');
  const { name, role } = useVisitor();
  const works = mayDo(role, 'work');
  const own = works || note.author === name;
  const time = formatClock(secondsToTicks(note.seconds), 1);
  return (
    <li>
      <button type="button" className="note-time" title="Hear this moment again" onClick={onHear}>
        {time}
      </button>
      <span className="text-secondary">{note.path}</span>
      {note.author !== '' && <span className="text-secondary">{note.author}</span>}
      {own ? (
        <DraftField
          label={`Note at ${time}`}
          className="form-control-sm"
          value={note.text}
          placeholder="What is heard here?"
          onCommit={onWrite}
        />
      ) : (
        <span>{note.text}</span>
      )}
      {track && works && (
        <Link to={`/albums/${albumId}/sequence?song=${encodeURIComponent(track.id)}`}>
          Track {track.number} in Sequence
        </Link>
      )}
      {own && (
        <button
          type="button"
          className="row-button"
          aria-label={`Take the note at ${time} out`}
          onClick={onRemove}
        >
          <X size={14} aria-hidden />
        </button>
      )}
    </li>
  );
}
