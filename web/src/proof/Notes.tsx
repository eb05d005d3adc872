import { CONTRACT, mayDo, type DeliveryRecord, type NoteRecord } from '@oiseau/api';
import { audioOf, trackOfMoment, type FilePlace } from '@oiseau/render';
import { secondsToTicks } from '@oiseau/audio/time';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { Form } from 'react-bootstrap';
import { Link } from 'react-router';
import { useVisitor } from '../access/VisitorContext.js';
import { useAlbum } from '../album/AlbumContext.js';
import { whileNotTold } from '../api/changes.js';
import { call } from '../api/client.js';
import { DraftField } from '../ui/DraftField.js';
import { clockText, formatWhen } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';
import { useDeliveredPlan, type Delivered } from './useDelivered.js';
import { t } from '../ui/messages.js';

/** What was noted on a delivery, and the ways to change that. */
interface Notes {
  readonly all: readonly NoteRecord[];
  add(note: Pick<NoteRecord, 'path' | 'seconds' | 'text'>): void;
  write(id: string, text: string): void;
  tick(id: string, met: boolean): void;
  remove(id: string): void;
}

/** A listener may be noting something at this moment. */
const NEWS_MS = 15_000;

export function useNotes(deliveryId: string): Notes {
  const queries = useQueryClient();
  const { tell, complain } = useNotices();
  const key = ['notes', deliveryId];
  const { data } = useQuery({
    queryKey: key,
    queryFn: () => call(CONTRACT.notes, { params: { id: deliveryId } }),
    refetchInterval: () => whileNotTold(NEWS_MS),
  });
  const then = (done: Promise<unknown>): void =>
    void done.catch(complain).then(() => queries.invalidateQueries({ queryKey: key }));
  return {
    all: data ?? [],
    add: (note) => then(call(CONTRACT.addNote, { params: { id: deliveryId }, body: note })),
    write: (id, text) => then(call(CONTRACT.writeNote, { params: { id }, body: { text } })),
    tick: (id, met) => {
      // The hand sees at once what it did.
      const metAt = met ? new Date().toISOString() : null;
      queries.setQueryData<readonly NoteRecord[]>(key, (all) =>
        all?.map((note) => (note.id === id ? { ...note, metAt } : note)),
      );
      then(call(CONTRACT.tickNote, { params: { id }, body: { met } }));
    },
    remove: (id) => {
      const note = data?.find((each) => each.id === id);
      then(
        call(CONTRACT.removeNote, { params: { id } }).then(() => {
          if (!note) return;
          const { path, seconds, text } = note;
          const putBack = (): void =>
            then(call(CONTRACT.addNote, { params: { id: deliveryId }, body: { path, seconds, text } }));
          tell(t('Note deleted.'), { label: t('Undo'), run: putBack });
        }),
      );
    },
  };
}

/** The notes of a delivery whose files are gone: there is nothing to be heard, but the words and their places stay. */
export function NotesAlone({ delivery }: { readonly delivery: DeliveryRecord }) {
  const delivered = useDeliveredPlan(delivery);
  const notes = useNotes(delivery.id);
  return delivered && <NoteList notes={notes} delivered={delivered} onHear={null} />;
}

/** What was noted, by oneself and by listeners; each leads to its place in Sequence, and can be ticked off. */
export function NoteList({
  notes,
  delivered: { plan, parts },
  onHear,
}: {
  readonly notes: Notes;
  readonly delivered: Delivered;
  /** null: there is nothing to be heard. */
  readonly onHear: ((note: NoteRecord) => void) | null;
}) {
  const trackOf = ({ path, seconds }: NoteRecord): FilePlace | undefined => {
    const file = audioOf(plan, path);
    const part = parts.find(({ number }) => number === file?.part);
    return file && part && trackOfMoment(part, file, seconds);
  };
  const { all } = notes;
  const met = all.filter(({ metAt }) => metAt !== null).length;
  return (
    <>
      {met > 0 && (
        <p className="note-count text-secondary">
          {t('{met, plural, one {# of {count} notes is done.} other {# of {count} notes are done.}}', {
            met,
            count: all.length,
          })}
        </p>
      )}
      <ul className="note-list" aria-label={t('Notes')}>
        {all.map((each) => (
          <NoteRow
            key={each.id}
            note={each}
            track={trackOf(each)}
            notes={notes}
            onHear={onHear && (() => onHear(each))}
          />
        ))}
      </ul>
    </>
  );
}

function NoteRow({
  note,
  track,
  notes,
  onHear,
}: {
  readonly note: NoteRecord;
  readonly track: FilePlace | undefined;
  readonly notes: Notes;
  readonly onHear: (() => void) | null;
}) {
  const { id: albumId } = useAlbum('id');
  const { name, role } = useVisitor();
  const works = mayDo(role, 'work');
  const { id, path, text, author, fromListener, metAt } = note;
  // Notes of others can't be edited.
  const own = !fromListener && (works || author === name);
  const time = clockText(secondsToTicks(note.seconds), 1);
  return (
    <li className={metAt === null ? '' : 'met'}>
      <Form.Check
        aria-label={t('Mark the note at {time} as done', { time })}
        title={metAt === null ? t('Mark as done') : t('Done {when}', { when: formatWhen(metAt, new Date()) })}
        disabled={!works}
        checked={metAt !== null}
        onChange={({ target }) => notes.tick(id, target.checked)}
      />
      {onHear ? (
        <button type="button" className="note-time" title={t('Play this moment')} onClick={onHear}>
          {time}
        </button>
      ) : (
        <span>{time}</span>
      )}
      <span className="note-of">
        {author !== '' && <strong>{author}</strong>} <span className="text-secondary">{path}</span>
      </span>
      {own ? (
        <DraftField
          label={t('Note at {time}', { time })}
          className="form-control-sm"
          value={text}
          placeholder={t('Your note')}
          onCommit={(typed) => notes.write(id, typed)}
        />
      ) : (
        <span className="note-words">{text || t('no text')}</span>
      )}
      {track && works ? (
        <Link to={`/albums/${albumId}/sequence?song=${encodeURIComponent(track.id)}`}>
          {t('Track {number}: show in Sequence', { number: track.number })}
        </Link>
      ) : (
        <span />
      )}
      {own ? (
        <button
          type="button"
          className="row-button"
          aria-label={t('Delete the note at {time}', { time })}
          onClick={() => notes.remove(id)}
        >
          <X size={14} aria-hidden />
        </button>
      ) : (
        <span />
      )}
    </li>
  );
}
