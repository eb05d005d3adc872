import { beatLength, FASTEST_BPM, SLOWEST_BPM, ticks, type Song, type Tempo } from '@oiseau/core';
import { Hand, SkipForward, Search, StepForward, Trash2 } from 'lucide-react';
import { Button, Form } from 'react-bootstrap';
import { IconButton } from '../../ui/IconButton.js';
import { NumberField } from '../../ui/NumberField.js';
import type { TempoInHand } from './useTempo.js';

/** Bars that somebody waits before the next song at a press. */
export const BARS_AT_A_TIME = 2;

interface BenchBeatProps {
  /** The song that ends. */
  readonly song: Song | undefined;
  readonly tempo: TempoInHand;
  readonly onTap: () => void;
  readonly onWait: (bars: number) => void;
}

/** The beat of the song that ends: tapped, estimated, corrected, and waited for. */
export function BenchBeat({
  song,
  tempo: { taps, estimating, estimate, set },
  onTap,
  onWait,
}: BenchBeatProps) {
  if (!song)
    return <p className="bench-hint">No song stands before this one, so there is no beat to count.</p>;
  const { tempo } = song.marks;
  return (
    <div className="bench-numbers">
      <div className="bench-row">
        <Button size="sm" variant="outline-primary" onClick={onTap} title="A beat where it is heard (B)">
          <Hand size={14} aria-hidden /> Tap the beat
        </Button>
        <Button size="sm" variant="outline-primary" disabled={estimating} onClick={estimate}>
          <Search size={14} aria-hidden /> {estimating ? 'Listening …' : 'Find it in the last 20 s'}
        </Button>
        <span className="text-secondary small" role="status">
          {taps > 0 && `${taps} ${taps === 1 ? 'tap' : 'taps'}`}
        </span>
      </div>
      {tempo ? (
        <KnownBeat tempo={tempo} onChange={set} onWait={onWait} />
      ) : (
        <p className="bench-hint">
          With the beat of “{song.title}” known, its bars carry on past its end, and the next song snaps to
          them.
        </p>
      )}
    </div>
  );
}

/** A beat that is known: its tempo and bars corrected, and waited for. */
function KnownBeat({
  tempo,
  onChange,
  onWait,
}: {
  tempo: Tempo;
  onChange: (tempo: Tempo | null) => void;
  onWait: (bars: number) => void;
}) {
  const change = (to: Partial<Tempo>): void => onChange({ ...tempo, ...to });
  return (
    <>
      <div className="bench-row">
        <NumberField
          label="Tempo"
          unit="bpm"
          value={Math.round(tempo.bpm * 100) / 100}
          least={SLOWEST_BPM}
          most={FASTEST_BPM}
          onChange={(bpm) => change({ bpm })}
        />
        <Button
          size="sm"
          variant="outline-primary"
          disabled={tempo.bpm / 2 < SLOWEST_BPM}
          onClick={() => change({ bpm: tempo.bpm / 2 })}
        >
          half
        </Button>
        <Button
          size="sm"
          variant="outline-primary"
          disabled={tempo.bpm * 2 > FASTEST_BPM}
          onClick={() => change({ bpm: tempo.bpm * 2 })}
        >
          double
        </Button>
        <Form.Select
          size="sm"
          aria-label="Beats in a bar"
          value={tempo.bar}
          onChange={({ target }) => change({ bar: Number(target.value) })}
        >
          {[1, 2, 3, 4, 5, 6, 7, 8, 9, 12].map((bar) => (
            <option key={bar} value={bar}>
              {bar} in a bar
            </option>
          ))}
        </Form.Select>
        <IconButton
          icon={StepForward}
          label="Bars begin a beat later"
          onClick={() => change({ beat: ticks(Math.round(tempo.beat + beatLength(tempo))) })}
        />
        <IconButton icon={Trash2} label="Forget the beat" onClick={() => onChange(null)} />
      </div>
      <div className="bench-row">
        <Button
          size="sm"
          variant="outline-primary"
          title="The next song begins two bars later, on the same beat (W)"
          onClick={() => onWait(BARS_AT_A_TIME)}
        >
          <SkipForward size={14} aria-hidden /> Same beat, two bars later
        </Button>
        <Button
          size="sm"
          variant="outline-primary"
          title="Two bars earlier, on the same beat (Shift W)"
          onClick={() => onWait(-BARS_AT_A_TIME)}
        >
          two bars earlier
        </Button>
      </div>
    </>
  );
}
