import { cutsWell, mediumWords, partName, positionOf } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { nameOfSide, sideQuestion, type SideFigures } from '@oiseau/album/measured';
import { ticks, ticksToSeconds } from '@oiseau/audio/time';
import { useMemo, type ReactElement } from 'react';
import {
  Area,
  ComposedChart,
  Line,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { useHeardFigures, useSounds } from '../album/SoundsContext.js';
import { useFindings } from './FindingsContext.js';
import { AXIS, minutes, timeTicks, TOOLTIP } from '../ui/charts.js';
import { clockText, formatDb, formatNumber } from '../ui/format.js';
import { say, t } from '../ui/messages.js';

/** A side as a cutting room reads it: how loud and how wide it is from the rim to the inside, and where its tracks lie. */
export function SideSheet({ part }: { part: Part }) {
  const { id } = useAlbum('id');
  const { sides } = useSounds();
  const question = useMemo(() => sideQuestion(part), [part]);
  const figures = question ? sides.get(nameOfSide(question)) : undefined;
  const { end } = part.placement;
  return (
    <div className="side-sheet">
      <div className="view-head">
        <h2>{say(partName(part))}</h2>
        <span className="text-secondary">
          {t('{medium} · {end} of {limit}; up to {recommended} is recommended', {
            medium: mediumWords(part.medium),
            end: clockText(end),
            limit: clockText(part.limit),
            recommended: clockText(cutsWell(part.medium)),
          })}
        </span>
        <span className="flex-grow-1" />
        <Link className="btn btn-outline-primary btn-sm" to={`/albums/${id}/checks`}>
          {t('Back to Checks')}
        </Link>
        <Link className="btn btn-outline-primary btn-sm" to={`/albums/${id}/render`}>
          {t('Show in Render')}
        </Link>
      </div>
      {figures ? (
        <SideCourse part={part} figures={figures} />
      ) : (
        <p className="text-secondary">
          {question ? t('Measuring the level and width of this side …') : t('This side has no tracks yet.')}
        </p>
      )}
      <SideTracks part={part} />
    </div>
  );
}

const COURSE_MARGIN = { top: 6, right: 8, bottom: 0, left: 0 } as const;

/** What is doubtful, in the room that a picture has. */
const DOUBTS = {
  'bass-against': t('out-of-phase bass'),
  'bass-wide': t('wide bass'),
  'bright-inside': t('bright'),
} as const;

/** Level and width along the side; the outside of the record is at the left. */
function SideCourse({ part, figures }: { part: Part; figures: SideFigures }) {
  const { course } = figures;
  const rows = useMemo(
    () =>
      course.levelDb.map((level, at) => ({
        at,
        level: Math.max(-60, level),
        width: level < -60 ? null : Math.max(-40, Math.min(6, course.widthDb[at] ?? -40)),
      })),
    [course],
  );
  const doubts = useDoubtMarks(part);
  const seconds = Math.max(1, course.levelDb.length);
  const xAxis = (
    <XAxis
      dataKey="at"
      type="number"
      domain={[0, seconds]}
      ticks={timeTicks(seconds)}
      tickFormatter={minutes}
      {...AXIS}
    />
  );
  const starts = part.tracks
    .flatMap(({ id }) => part.placement.songs.get(id)?.start ?? [])
    .map((start) => <ReferenceLine key={start} x={ticksToSeconds(start)} stroke="var(--oi-soft)" />);
  return (
    <figure className="side-course">
      <figcaption>
        {t('Level')}{' '}
        <span className="text-secondary">{t('dBFS per second; outer edge left, inner grooves right')}</span>
      </figcaption>
      <LevelChart {...{ rows, xAxis, starts }} doubts={doubts} />
      <figcaption>
        {t('Width')}{' '}
        <span className="text-secondary">{t('side relative to mid, dB; 0 dB is as much side as mid')}</span>
      </figcaption>
      <WidthChart {...{ rows, xAxis, starts }} />
    </figure>
  );
}

interface CourseChart {
  /** Seconds from the outside, level in dBFS, width in dB (null: too quiet to say). */
  readonly rows: { at: number; level: number; width: number | null }[];
  readonly xAxis: ReactElement;
  /** A line where each track starts. */
  readonly starts: ReactElement[];
}

/** Lines where the checks doubt something of a side. */
function useDoubtMarks(part: Part): ReactElement[] {
  const { all } = useFindings();
  return all.flatMap((finding) =>
    'at' in finding && finding.part === part.number
      ? [
          <ReferenceLine
            key={finding.code}
            x={ticksToSeconds(finding.at)}
            stroke="var(--oi-doubt)"
            label={{
              value: DOUBTS[finding.code],
              position: 'insideTopLeft',
              fill: 'var(--oi-doubt)',
              fontSize: 12,
            }}
          />,
        ]
      : [],
  );
}

function LevelChart({ rows, xAxis, starts, doubts }: CourseChart & { readonly doubts: ReactElement[] }) {
  return (
    <ResponsiveContainer width="100%" height={150}>
      <ComposedChart data={rows} margin={COURSE_MARGIN}>
        {xAxis}
        <YAxis width={44} domain={[-60, 0]} ticks={[-60, -40, -20, 0]} {...AXIS} />
        {starts}
        <Area
          dataKey="level"
          baseValue={-60}
          type="step"
          fill="var(--oi-ink)"
          fillOpacity={0.85}
          stroke="none"
          isAnimationActive={false}
        />
        {doubts}
        <Tooltip
          {...TOOLTIP}
          labelFormatter={(at) => minutes(Number(at))}
          formatter={(value) => [t('{level} dBFS', { level: formatDb(Number(value)) }), 'level']}
        />
      </ComposedChart>
    </ResponsiveContainer>
  );
}

function WidthChart({ rows, xAxis, starts }: CourseChart) {
  return (
    <ResponsiveContainer width="100%" height={110}>
      <ComposedChart data={rows} margin={COURSE_MARGIN}>
        {xAxis}
        <YAxis width={44} domain={[-40, 6]} ticks={[-40, -20, -10, 0]} {...AXIS} />
        {starts}
        <ReferenceLine y={0} stroke="var(--oi-soft)" strokeDasharray="3 3" />
        <Line
          dataKey="width"
          type="linear"
          dot={false}
          stroke="var(--oi-accent)"
          strokeWidth={1.5}
          isAnimationActive={false}
        />
        <Tooltip
          {...TOOLTIP}
          labelFormatter={(at) => minutes(Number(at))}
          formatter={(value) => [t('{level} dB', { level: formatDb(Number(value)) }), 'width']}
        />
      </ComposedChart>
    </ResponsiveContainer>
  );
}

function SideTracks({ part }: { part: Part }) {
  const figures = useHeardFigures();
  let before = ticks(0);
  return (
    <table className="table pq-table">
      <thead>
        <tr>
          <th>{t('No.')}</th>
          <th>{t('Title')}</th>
          <th className="num">{t('Start')}</th>
          <th className="num">{t('Length')}</th>
          <th className="num">{t('Gap')}</th>
          <th className="num">{t('True peak')}</th>
          <th className="num">{t('Max short-term')}</th>
          <th>ISRC</th>
        </tr>
      </thead>
      <tbody>
        {part.tracks.map(({ id, title, isrc }, i) => {
          const placed = part.placement.songs.get(id);
          if (!placed) return null;
          const gap = ticksToSeconds(ticks(placed.start - before));
          before = placed.end;
          const heard = figures.get(id);
          return (
            <tr key={id}>
              <td>{positionOf(part, i + 1)}</td>
              <td>{title || t('Untitled')}</td>
              <td className="num">{clockText(placed.start, 1)}</td>
              <td className="num">{clockText(ticks(placed.end - placed.start), 1)}</td>
              <td className="num">{formatNumber(gap, 2)} s</td>
              <td className="num">{formatDb(heard?.truePeakDbtp ?? null)} dBTP</td>
              <td className="num">{formatDb(heard?.maxShortTermLufs ?? null)} LUFS</td>
              <td>{isrc}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
