import { formatClock, secondsToTicks } from '@oiseau/audio/time';
import type { MasterDoubt } from '@oiseau/checks';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { CartesianGrid, Line, LineChart, ReferenceLine, Tooltip, XAxis, YAxis } from 'recharts';
import { CONTRACT, type MasterRecord } from '@oiseau/api';
import { useAlbum } from '../album/AlbumContext.js';
import { whileNotTold } from '../api/changes.js';
import { call } from '../api/client.js';
import { mastersKey } from '../api/queries.js';
import { CHART_MARGIN, ChartFrame } from '../ui/ChartFrame.js';
import { AXIS, TOOLTIP } from '../ui/charts.js';
import { formatDb } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';
import { figure, t } from '../ui/messages.js';

const LOOK_MS = 1500;
const FLOOR_DB = -140;

const kilo = (hz: number): string => figure(`${Number((hz / 1000).toFixed(1))} k`);

/** Asks for a new measurement of a master that was measured before its upper end was looked at. */
function useMeasureAgain(sha256: string, known: boolean) {
  const { id } = useAlbum('id');
  const queries = useQueryClient();
  const { complain } = useNotices();
  const [asked, setAsked] = useState(false);
  useEffect(() => {
    if (!asked || known) return undefined;
    const timer = setInterval(() => {
      if (whileNotTold(LOOK_MS)) void queries.invalidateQueries({ queryKey: mastersKey(id) });
    }, LOOK_MS);
    return () => clearInterval(timer);
  }, [asked, known, queries, id]);
  const measure = (): void => {
    call(CONTRACT.measureMaster, { params: { sha256 } }).then(() => setAsked(true), complain);
  };
  return { asked, measure };
}

/** The spectrum of the brightest moments up to half of the rate, with the edge in it where that is doubtful. */
export function UpperEndChart({
  master: { sha256, measurement, info },
  doubts,
  onPlay,
}: {
  readonly master: MasterRecord;
  readonly doubts: readonly MasterDoubt[];
  readonly onPlay: (sample: number) => void;
}) {
  const upper = measurement?.upperEnd ?? null;
  const { asked, measure } = useMeasureAgain(sha256, upper !== null);
  const { data: bands } = useQuery({
    queryKey: ['upper bands', sha256, upper !== null],
    queryFn: () => call(CONTRACT.upperBands, { params: { sha256 } }),
    enabled: upper !== null,
    staleTime: Infinity,
  });
  const rows = useMemo(
    () =>
      bands?.map((db, band) => ({
        hz: (band + 0.5) * (upper?.bandHz ?? 0),
        db: Math.max(FLOOR_DB, db ?? FLOOR_DB),
      })) ?? [],
    [bands, upper],
  );
  if (!upper)
    return (
      <ChartFrame title={t('High frequencies')}>
        <p className="text-secondary">
          {asked ? t('Measuring …') : t('This master was measured by an earlier version of Oiseau.')}{' '}
          {!asked && (
            <button type="button" className="link-button" onClick={measure}>
              {t('Measure again')}
            </button>
          )}
        </p>
      </ChartFrame>
    );
  const doubt = doubts.find(({ code }) => code === 'lossy-past' || code === 'upsampled');
  return (
    <ChartFrame
      title={t('High frequencies')}
      legend={
        <>
          {t('brightest passages up to half the sample rate, dB')}{' '}
          <button type="button" className="link-button" onClick={() => onPlay(upper.at)}>
            {t('Play the brightest passage, {at}', { at: formatClock(secondsToTicks(upper.at / info.rate)) })}
          </button>
        </>
      }
    >
      {upperEndLines(rows, info.rate / 2, doubt && 'edgeHz' in doubt ? doubt.edgeHz : null)}
    </ChartFrame>
  );
}

/** Distance between the labels of the frequency axis, Hz. */
const labelStep = (half: number): number => (half > 50_000 ? 16_000 : half > 25_000 ? 8000 : 4000);

/** The chart itself: a frame gives its size to its own child, so this is a function and no component. */
function upperEndLines(rows: readonly { hz: number; db: number }[], half: number, edge: number | null) {
  const step = labelStep(half);
  return (
    <LineChart data={rows} margin={CHART_MARGIN}>
      <CartesianGrid stroke="var(--oi-rule)" vertical={false} />
      <XAxis
        dataKey="hz"
        type="number"
        domain={[0, half]}
        ticks={Array.from({ length: Math.floor(half / step) }, (_, i) => (i + 1) * step)}
        tickFormatter={kilo}
        {...AXIS}
      />
      <YAxis
        domain={[FLOOR_DB, 0]}
        ticks={[-140, -100, -60, -20]}
        tickFormatter={(value: number) => formatDb(value, 0)}
        {...AXIS}
      />
      {edge !== null && (
        <ReferenceLine
          x={edge}
          stroke="var(--oi-danger)"
          label={{
            value: `${kilo(edge)}Hz`,
            position: 'insideTopLeft',
            fill: 'var(--oi-danger)',
            fontSize: 12,
          }}
        />
      )}
      <Line dataKey="db" stroke="var(--oi-accent)" dot={false} strokeWidth={1.5} isAnimationActive={false} />
      <Tooltip
        {...TOOLTIP}
        labelFormatter={(hz) => `${kilo(Number(hz))}Hz`}
        formatter={(value) => t('{level} dB', { level: formatDb(Number(value)) })}
      />
    </LineChart>
  );
}
