import { beatLength, FASTEST_BPM, SLOWEST_BPM, type Song, type Tempo } from '@oiseau/album/model';
import { formatClock, secondsToTicks, ticks } from '@oiseau/audio/time';
import type { TempoCertainty } from '@oiseau/audio/measure';
import { Hand, SkipForward, Search, StepForward, Trash2 } from 'lucide-react';
import { Button, Form } from 'react-bootstrap';
import { IconButton } from '../../ui/IconButton.js';
import { NumberField } from '../../ui/NumberField.js';
import type { TempoInHand } from './useTempo.js';
import { t } from '../../ui/messages.js';

const CERTAINTY: Readonly<Record<TempoCertainty, string>> = {
  sure: t('Found with high confidence'),
  likely: t('Found with medium confidence, check by ear'),
  guess: t('Found with low confidence, tap along to check'),
};
const clock = (seconds: number): string => formatClock(secondsToTicks(seconds));

/** Bars added before the next track per press. */
export const BARS_AT_A_TIME = 2;

interface BenchBeatProps {
  /** The song that ends. */
  readonly song: Song | undefined;
  readonly tempo: TempoInHand;
  readonly onTap: () => void;
  readonly onWait: (bars: number) => void;
  /** The next song begins a beat before the end. */
  readonly onLastBeat: () => void;
}

/** The beat of the song that ends: tapped, estimated, corrected, and waited for. */
export function BenchBeat({
  song,
  tempo: { taps, estimating, found, estimate, set, half, double },
  onTap,
  onWait,
  onLastBeat,
}: BenchBeatProps) {
  if (!song)
    return <p className="bench-hint">{t('There is no previous track, so there is no beat to count.')}</p>;
  const { tempo } = song.marks;
  return (
    <div className="bench-numbers">
      <div className="bench-row">
        <Button
          size="sm"
          variant="outline-primary"
          onClick={onTap}
          title={t('Tap a beat at the playback position (B)')}
        >
          <Hand size={14} aria-hidden /> {t('Tap the beat')}
        </Button>
        <Button
          size="sm"
          variant="outline-primary"
          disabled={estimating}
          title={found ? t('Search an earlier passage (F)') : t('Search the last passage with a beat (F)')}
          onClick={estimate}
        >
          <Search size={14} aria-hidden />{' '}
          {estimating ? t('Searching …') : found ? t('Search earlier') : t('Find beat')}
        </Button>
        <span className="text-secondary small" role="status">
          {taps > 0 && t('{taps, plural, one {# tap} other {# taps}}', { taps })}
        </span>
      </div>
      {found && (
        <p className="bench-hint" role="status">
          {t('{certainty}, in {from} to {to} of the master.', {
            certainty: CERTAINTY[found.certainty],
            from: clock(found.fromSeconds),
            to: clock(found.toSeconds),
          })}
        </p>
      )}
      {tempo ? (
        <KnownBeat {...{ tempo, half, double, onWait, onLastBeat }} onChange={set} />
      ) : (
        <p className="bench-hint">
          {t(
            'Once the beat of “{title}” is known, its bars continue past its end and the next track snaps to them.',
            { title: song.title },
          )}
        </p>
      )}
    </div>
  );
}

interface KnownBeatProps extends Pick<BenchBeatProps, 'onWait' | 'onLastBeat'> {
  readonly tempo: Tempo;
  readonly half: () => void;
  readonly double: () => void;
  readonly onChange: (tempo: Tempo | null) => void;
}

/** A beat that is known: its tempo and bars corrected, and waited for. */
function KnownBeat({ tempo, half, double, onChange, onWait, onLastBeat }: KnownBeatProps) {
  return (
    <>
      <TempoRow {...{ tempo, half, double, onChange }} />
      <div className="bench-row">
        <Button
          size="sm"
          variant="outline-primary"
          title={t('Start the next track two bars later, on the same beat (W)')}
          onClick={() => onWait(BARS_AT_A_TIME)}
        >
          <SkipForward size={14} aria-hidden /> {t('Two bars later')}
        </Button>
        <Button
          size="sm"
          variant="outline-primary"
          title={t('Start the next track two bars earlier, on the same beat (Shift W)')}
          onClick={() => onWait(-BARS_AT_A_TIME)}
        >
          {t('Two bars earlier')}
        </Button>
        <Button
          size="sm"
          variant="outline-primary"
          title={t('Start the next track on the last beat before the end of this one (E)')}
          onClick={onLastBeat}
        >
          {t('On the last beat')}
        </Button>
      </div>
    </>
  );
}

function TempoRow({ tempo, half, double, onChange }: Omit<KnownBeatProps, 'onWait' | 'onLastBeat'>) {
  const change = (to: Partial<Tempo>): void => onChange({ ...tempo, ...to });
  return (
    <div className="bench-row">
      <NumberField
        label={t('Tempo')}
        unit={t('bpm')}
        value={Math.round(tempo.bpm * 100) / 100}
        least={SLOWEST_BPM}
        most={FASTEST_BPM}
        onChange={(bpm) => change({ bpm })}
      />
      <Button
        size="sm"
        variant="outline-primary"
        disabled={tempo.bpm / 2 < SLOWEST_BPM}
        title={t('Half tempo (H)')}
        onClick={half}
      >
        {t('half')}
      </Button>
      <Button
        size="sm"
        variant="outline-primary"
        disabled={tempo.bpm * 2 > FASTEST_BPM}
        title={t('Double tempo (D)')}
        onClick={double}
      >
        {t('double')}
      </Button>
      <Form.Select
        size="sm"
        aria-label={t('Beats per bar')}
        value={tempo.bar}
        onChange={({ target }) => change({ bar: Number(target.value) })}
      >
        {[1, 2, 3, 4, 5, 6, 7, 8, 9, 12].map((bar) => (
          <option key={bar} value={bar}>
            {t('{bar} beats per bar', { bar })}
          </option>
        ))}
      </Form.Select>
      <IconButton
        icon={StepForward}
        label={t('Move the downbeat one beat later')}
        onClick={() => change({ beat: ticks(Math.round(tempo.beat + beatLength(tempo))) })}
      />
      <IconButton icon={Trash2} label={t('Remove the beat')} onClick={() => onChange(null)} />
    </div>
  );
}
