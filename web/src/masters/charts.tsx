import { loudnessOverTime } from '@oiseau/audio/measure';
import { masterTicks } from '@oiseau/album/model';
import { ticksToSeconds } from '@oiseau/audio/time';
import { useMemo } from 'react';
import {
  Area,
  CartesianGrid,
  ComposedChart,
  Line,
  LineChart,
  ReferenceLine,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import type { MasterRecord } from '@oiseau/api';
import { usePowers } from '../api/queries.js';
import { CHART_MARGIN, ChartFrame } from '../ui/ChartFrame.js';
import { AXIS, minutes, timeTicks, TOOLTIP } from '../ui/charts.js';
import { formatDb } from '../ui/format.js';
import { spectrumRows } from './spectrum-rows.js';
import { t } from '../ui/messages.js';

/** Points across a chart: as many as its pixels can show. */
const POINTS = 400;
/** Short-term and momentary loudness along the master, with its integrated loudness as a line. */
export function LoudnessChart({
  master,
  onPlay,
}: {
  master: MasterRecord;
  onPlay: (sample: number) => void;
}) {
  const powers = usePowers([master]).get(master.sha256);
  const rows = useMemo(() => {
    if (!powers) return [];
    const shortTerm = loudnessOverTime(powers, 'short-term');
    const momentary = loudnessOverTime(powers, 'momentary');
    const step = Math.max(1, Math.floor(powers.length / POINTS));
    return Array.from({ length: Math.ceil(powers.length / step) }, (_, i) => ({
      at: (i * step + 1) / 10,
      shortTerm: shortTerm[i * step] ?? null,
      momentary: momentary[i * step] ?? null,
    }));
  }, [powers]);
  const integrated = master.measurement?.integratedLufs ?? null;
  const seconds = ticksToSeconds(masterTicks(master.info));
  return (
    <ChartFrame
      title={t('Loudness over time')}
      legend={
        <>
          <span className="key strong" /> {t('short-term')} <span className="key faint" />{' '}
          {t('momentary, LUFS')}
        </>
      }
    >
      <LineChart
        data={rows}
        margin={CHART_MARGIN}
        onClick={({ activeLabel }) => {
          if (activeLabel !== undefined) onPlay(Number(activeLabel) * master.info.rate);
        }}
      >
        <CartesianGrid stroke="var(--oi-rule)" vertical={false} />
        <XAxis
          dataKey="at"
          type="number"
          domain={[0, seconds]}
          ticks={timeTicks(seconds)}
          tickFormatter={minutes}
          minTickGap={40}
          {...AXIS}
        />
        <YAxis
          domain={[-60, 0]}
          ticks={[-60, -40, -23, -14, 0]}
          allowDataOverflow
          tickFormatter={(value: number) => formatDb(value, 0)}
          {...AXIS}
        />
        {integrated !== null && (
          <ReferenceLine y={integrated} stroke="var(--oi-accent)" strokeDasharray="4 4" />
        )}
        <Line
          dataKey="momentary"
          stroke="var(--oi-soft)"
          dot={false}
          strokeWidth={1}
          isAnimationActive={false}
        />
        <Line
          dataKey="shortTerm"
          stroke="var(--oi-accent)"
          dot={false}
          strokeWidth={2}
          isAnimationActive={false}
        />
        <Tooltip
          {...TOOLTIP}
          labelFormatter={(at) => minutes(Number(at))}
          formatter={(value) => `${formatDb(Number(value))} LUFS`}
        />
      </LineChart>
    </ChartFrame>
  );
}

/** The long-term spectrum against the others of the album, all brought to the same loudness, so that only the balance differs. */
export function SpectrumChart({
  master,
  masters,
}: {
  master: MasterRecord;
  masters: readonly MasterRecord[];
}) {
  const rows = useMemo(
    () =>
      spectrumRows(
        master,
        masters.filter(({ sha256 }) => sha256 !== master.sha256),
      ),
    [master, masters],
  );
  return (
    <ChartFrame
      title={t('Spectrum')}
      legend={
        <>
          <span className="key strong" /> {t('this master')} <span className="key band" />{' '}
          {t('the others, loudness-matched, dB')}
        </>
      }
    >
      <ComposedChart data={rows} margin={CHART_MARGIN}>
        <CartesianGrid stroke="var(--oi-rule)" vertical={false} />
        <XAxis
          dataKey="hz"
          type="category"
          interval={0}
          ticks={[31.5, 63, 125, 250, 500, 1000, 2000, 4000, 8000, 16_000]}
          tickFormatter={(hz: number) => (hz >= 1000 ? t('{hz} k', { hz: hz / 1000 }) : String(hz))}
          {...AXIS}
        />
        <YAxis
          domain={[
            (lowest: number) => Math.max(-100, 20 * Math.floor(lowest / 20)),
            (highest: number) => 20 * Math.ceil(highest / 20),
          ]}
          ticks={[-100, -80, -60, -40, -20, 0, 20]}
          interval={0}
          allowDataOverflow
          tickFormatter={(value: number) => formatDb(value, 0)}
          {...AXIS}
        />
        <Area
          dataKey="others"
          stroke="none"
          fill="var(--oi-soft)"
          fillOpacity={0.45}
          isAnimationActive={false}
        />
        <Line dataKey="own" stroke="var(--oi-accent)" dot={false} strokeWidth={2} isAnimationActive={false} />
        <Tooltip
          {...TOOLTIP}
          labelFormatter={(hz) => t('{hz} Hz', { hz: String(hz) })}
          formatter={(value) =>
            Array.isArray(value)
              ? value.map((edge) => formatDb(Number(edge))).join(' to ')
              : formatDb(Number(value))
          }
        />
      </ComposedChart>
    </ChartFrame>
  );
}
