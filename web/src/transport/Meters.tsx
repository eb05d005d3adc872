import { formatDb } from '../ui/format.js';
import { usePlayerState } from '../album/PlayerContext.js';
import type { PlayerState } from '../player/player.js';
import { t } from '../ui/messages.js';

/** Bottom of the meter in dBFS. */
const FLOOR_DB = -60;
/** A true peak over this is a warning to those who will make lossy copies, dBTP (docs/rules.md 6.2). */
const LOSSY_CEILING_DB = -1;

/** Half a decibel at a time: the meter moves no more often than the eye can tell. */
const halves = (linear: number): number =>
  linear > 0 ? Math.max(FLOOR_DB, Math.round(40 * Math.log10(linear)) / 2) : FLOOR_DB;
const tenths = (value: number | null | undefined): number | null =>
  value === null || value === undefined ? null : Math.round(value * 10) / 10;

/** What is heard, in figures: peak with the highest so far, loudness of now, correlation. */
export function Meters() {
  const level = usePlayerState(({ reading }) => halves(reading?.samplePeak ?? 0));
  const highest = usePlayerState(({ highestSamplePeak }) => halves(highestSamplePeak));
  const highestTrue = usePlayerState(({ highestTruePeak }) => halves(highestTruePeak));
  const share = (db: number): number => 1 - db / FLOOR_DB;
  const shown = level > FLOOR_DB ? formatDb(level) : '–';
  return (
    <div className="meters">
      <div
        className="level"
        role="meter"
        aria-label={t('Sample peak in dBFS')}
        aria-valuemin={FLOOR_DB}
        aria-valuemax={0}
        aria-valuenow={level}
        aria-valuetext={t('{shown} dBFS', { shown })}
      >
        <div className="level-track">
          <div className="level-bar" style={{ transform: `scaleX(${share(level)})` }} />
          {highest > FLOOR_DB && (
            <span className="level-hold" style={{ left: `${100 * Math.min(1, share(highest))}%` }} />
          )}
        </div>
      </div>
      <dl>
        <div title={t('Highest sample peak since play was pressed, dBFS')}>
          <dt>{t('SP')}</dt>
          <dd>{highest > FLOOR_DB ? formatDb(highest) : '–'}</dd>
        </div>
        <div title={t('Highest true peak since play was pressed, dBTP')}>
          <dt>{t('TP')}</dt>
          <dd className={highestTrue > LOSSY_CEILING_DB ? 'text-danger' : undefined}>
            {highestTrue > FLOOR_DB ? formatDb(highestTrue) : '–'}
          </dd>
        </div>
        <Figure
          name="M"
          title={t('Momentary loudness, LUFS')}
          of={({ reading }) => tenths(reading?.momentaryLufs)}
        />
        <Figure
          name="S"
          title={t('Short-term loudness, LUFS')}
          of={({ reading }) => tenths(reading?.shortTermLufs)}
        />
        <Figure
          name={t('Corr.')}
          title={t('Correlation of the channels, −1 to 1')}
          of={({ reading }) => tenths(reading?.correlation)}
        />
      </dl>
    </div>
  );
}

function Figure({
  name,
  title,
  of,
}: {
  name: string;
  title: string;
  of: (state: PlayerState) => number | null;
}) {
  return (
    <div title={title}>
      <dt>{name}</dt>
      <dd>{formatDb(usePlayerState(of))}</dd>
    </div>
  );
}
