import type { ListenerNote, ListeningRow } from '@oiseau/api';
import { formatClock, secondsToTicks } from '@oiseau/audio/time';
import { X } from 'lucide-react';
import { Form } from 'react-bootstrap';
import { IconButton } from '../ui/IconButton.js';
import { useSavedText } from './useSavedText.js';
import type { Said } from './useSaid.js';
import { t } from '../ui/messages.js';

/** What the listener has noted: each at its moment, in words that keep themselves. */
export function ListenerNotes({
  said,
  rows,
  onHear,
}: {
  readonly said: Said;
  readonly rows: readonly ListeningRow[];
  readonly onHear: (path: string, seconds: number) => void;
}) {
  if (said.notes.length === 0) return null;
  return (
    <section aria-label={t('Your notes')}>
      <h2>{t('Your notes')}</h2>
      <ul className="listener-notes">
        {said.notes.map((note) => (
          <NoteLine
            key={note.id}
            note={note}
            place={placeWords(rows, note)}
            isNew={note.id === said.newest}
            onHear={() => onHear(note.path, note.seconds)}
            onWrite={(text) => said.write(note.id, text)}
            onRemove={() => said.remove(note.id)}
          />
        ))}
      </ul>
    </section>
  );
}

/** `3 Longshore, 1:02`: the track that sounds there, and how far into it. */
function placeWords(rows: readonly ListeningRow[], { path, seconds }: ListenerNote): string {
  for (const { files, tracks } of rows) {
    const index = files.findIndex((file) => file.path === path);
    if (index < 0) continue;
    const at = files.slice(0, index).reduce((sum, file) => sum + file.seconds, seconds);
    const track = tracks.findLast(({ start }) => start <= at + 0.001) ?? tracks[0];
    const into = Math.max(0, at - (track?.start ?? 0));
    const place = formatClock(secondsToTicks(into));
    return track
      ? t('{number} {title}, {place}', { number: track.number, title: track.title, place })
      : place;
  }
  return formatClock(secondsToTicks(seconds));
}

function NoteLine({
  note,
  place,
  isNew,
  onHear,
  onWrite,
  onRemove,
}: {
  readonly note: ListenerNote;
  readonly place: string;
  readonly isNew: boolean;
  readonly onHear: () => void;
  readonly onWrite: (text: string) => Promise<void>;
  readonly onRemove: () => void;
}) {
  const { text, trouble, type, send } = useSavedText(note.text, onWrite);
  return (
    <li>
      <button type="button" className="link-button" title={t('Play this moment')} onClick={onHear}>
        {place}
      </button>
      <Form.Control
        as="textarea"
        rows={1}
        maxLength={4000}
        autoFocus={isNew}
        aria-label={t('Note at {place}', { place })}
        placeholder={t('Your note')}
        value={text}
        onChange={({ target }) => type(target.value)}
        onBlur={send}
      />
      <IconButton icon={X} label={t('Delete the note at {place}', { place })} onClick={onRemove} />
      {trouble !== null && (
        <span role="alert" className="text-danger">
          {t('Not saved yet: {trouble} Retrying.', { trouble })}
        </span>
      )}
    </li>
  );
}
