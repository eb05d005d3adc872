import type { DeliveryRecord, NoteRecord } from '@oiseau/api';
import { deliveredRows, tracksInFile, type DeliveredRow } from '@oiseau/render';
import { formatClock, secondsToTicks } from '@oiseau/audio/time';
import { useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { PLAYER_RATE } from '../player/player.js';
import { useGuest, usePlayer } from '../album/PlayerContext.js';
import { useShortcuts } from '../ui/useShortcuts.js';
import { RowSilhouette } from './RowSilhouette.js';
import { deliveryAddresses, rowGuest, secondsOf, useHeardFiles, useOutlinesOfFiles } from './heard-files.js';
import { NoteList, useNotes } from './Notes.js';
import { useDeliveredPlan, type Delivered } from './useDelivered.js';
import { t } from '../ui/messages.js';

/** The last listen: what was written, read back sample by sample, with the album's marks and notes that lead back to their place. */
export function ProofListening({ delivery }: { delivery: DeliveryRecord }) {
  const delivered = useDeliveredPlan(delivery);
  const rows = useMemo(() => (delivered ? deliveredRows(delivered.plan, delivered.parts) : []), [delivered]);
  const [chosen, setChosen] = useState<string | null>(null);
  const row = rows.find(({ key }) => key === chosen) ?? rows[0];
  if (!delivered || !row) return null;
  return (
    <section className="listening" aria-label={t('Proof listening')}>
      <h3>{t('Final listen')}</h3>
      <RowListening
        key={row.key}
        delivery={delivery}
        delivered={delivered}
        rows={rows}
        row={row}
        onChoose={setChosen}
      />
    </section>
  );
}

interface TrackStart {
  readonly id: string;
  readonly number: number;
  readonly seconds: number;
}

/** Number and time of each track under its place in the waveform; what has no room is left out, and the press stays. */
function TrackStarts({
  marks,
  seconds: whole,
  onPlay,
}: {
  readonly marks: readonly TrackStart[];
  /** Length of the waveform. */
  readonly seconds: number;
  readonly onPlay: (seconds: number) => void;
}) {
  const percent = (seconds: number): string => `${(100 * seconds) / whole}%`;
  return (
    <div className="listening-marks">
      {marks.map(({ id, number, seconds }, i) => (
        <button
          key={id}
          type="button"
          title={t('Play from track {number}', { number })}
          style={{ left: percent(seconds), width: percent((marks[i + 1]?.seconds ?? whole) - seconds) }}
          onClick={() => onPlay(seconds)}
        >
          <b>{number}</b> <span>{formatClock(secondsToTicks(seconds))}</span>
        </button>
      ))}
    </div>
  );
}

/** Seconds that the arrows go back and on. */
const STEP_SECONDS = 5;

interface RowListeningProps {
  readonly delivery: DeliveryRecord;
  readonly delivered: Delivered;
  readonly rows: readonly DeliveredRow[];
  readonly row: DeliveredRow;
  readonly onChoose: (key: string) => void;
}

/** The files of a row on the player, their marks, and the notes on them. */
function useRowListening({ delivery, rows, row, onChoose }: RowListeningProps) {
  const where = useMemo(() => deliveryAddresses(delivery.id), [delivery.id]);
  const { heard, failure } = useHeardFiles(where, row.files);
  const notes = useNotes(delivery.id);
  const player = usePlayer();
  const name = t('{name}, revision {revision}', {
    name: delivery.deliverable.name,
    revision: delivery.revision,
  });
  useGuest(useMemo(() => heard && rowGuest(where, name, heard), [where, name, heard]));
  const outlines = useOutlinesOfFiles(where, heard ?? []);
  const marks = useMemo(
    () =>
      (heard ?? []).flatMap(({ file, start }) =>
        tracksInFile(row.part, file).map((track) => ({ ...track, seconds: start + track.seconds })),
      ),
    [heard, row],
  );
  const placeOfNote = (note: Pick<NoteRecord, 'path' | 'seconds'>): number | null => {
    const found = heard?.find(({ file }) => file.path === note.path);
    return found ? found.start + note.seconds : null;
  };
  const noted = notes.all.flatMap((note) => placeOfNote(note) ?? []);
  const position = (): number => player.state.position / PLAYER_RATE;
  const go = (seconds: number): void => void player.play(Math.max(0, seconds) * PLAYER_RATE);
  const note = (): void => {
    const at = position();
    const found = heard?.findLast(({ start }) => start <= at + 1e-6);
    if (found) notes.add({ path: found.file.path, seconds: at - found.start, text: '' });
  };
  useShortcuts(
    {
      M: note,
      ArrowLeft: () => go(position() - STEP_SECONDS),
      ArrowRight: () => go(position() + STEP_SECONDS),
      ArrowUp: () => go(marks.findLast(({ seconds }) => seconds < position() - 1)?.seconds ?? 0),
      ArrowDown: () => go(marks.find(({ seconds }) => seconds > position() + 0.1)?.seconds ?? position()),
    },
    true,
  );
  const hearNote = (each: NoteRecord): void => {
    const at = placeOfNote(each);
    const elsewhere = rows.find(({ files }) => files.some(({ path }) => path === each.path));
    // A moment of another part is heard once that is shown.
    if (at === null && elsewhere) onChoose(elsewhere.key);
    else if (at !== null) go(at);
  };
  return { heard, failure, notes, outlines, marks, noted, go, note, hearNote };
}

function RowListening(props: RowListeningProps) {
  const { delivered, rows, row, onChoose } = props;
  const { heard, failure, notes, outlines, marks, noted, go, note, hearNote } = useRowListening(props);
  return (
    <>
      <div className="listening-head">
        {rows.length > 1 && (
          <Form.Select
            size="sm"
            aria-label={t('Part to play')}
            value={row.key}
            onChange={({ target }) => onChoose(target.value)}
          >
            {rows.map(({ key, name: words }) => (
              <option key={key} value={key}>
                {words}
              </option>
            ))}
          </Form.Select>
        )}
        <span className="text-secondary">
          {heard
            ? t('Space plays the rendered files; ← → skip five seconds, ↑ ↓ skip a track.')
            : (failure?.message ?? t('Opening the rendered files …'))}
        </span>
        <span className="flex-grow-1" />
        <Button
          size="sm"
          variant="outline-primary"
          title={t('Add a note here (M)')}
          disabled={!heard}
          onClick={note}
        >
          {t('Add a note here')}
        </Button>
      </div>
      {heard && (
        <RowSilhouette
          name={row.name}
          heard={heard}
          outlines={outlines}
          marks={marks.map(({ seconds }) => seconds)}
          noted={noted}
        />
      )}
      {heard && <TrackStarts marks={marks} seconds={secondsOf(heard)} onPlay={go} />}
      <NoteList notes={notes} delivered={delivered} onHear={hearNote} />
    </>
  );
}
