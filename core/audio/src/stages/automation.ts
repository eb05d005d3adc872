import { atMost } from '../schema/at-most.js';
import * as z from '../schema/z.js';

/** The latest point of a moving value, in seconds. */
const LAST_S = 200_000;
/** The most points of a moving value. */
const MOST_POINTS = 1000;

/**
 * A value in dB that may move (docs/rules.md 10): a number, or points in rising order of time, linear in dB between them and constant outside.
 * @param least and `most`: what the value may be, dB
 */
export const movingDb = (least: number, most: number): z.ZodType<MovingDb, MovingDb> => {
  const point = z.strictObject({ at: z.number().min(0).max(LAST_S), db: z.number().min(least).max(most) });
  const points = z
    .array(point)
    .min(1)
    .refine((all) => all.every(({ at }, i) => i === 0 || at > (all[i - 1]?.at ?? 0)), {
      message: 'Points must be in ascending order of time.',
    });
  /** Of a list the first point that does not fit is named, and no other: a hostile one has a thousand in every band. */
  const checked = z.preprocess((value: z.input<typeof points>, context) => {
    const bad = Array.isArray(value) ? value.findIndex((each) => !isPoint(each, least, most)) : -1;
    if (bad < 0) return value;
    for (const { message, path } of point.safeParse(value[bad]).error?.issues ?? [])
      context.addIssue({ code: 'custom', path: [bad, ...path], message, input: value[bad] });
    return z.NEVER;
  }, points);
  return z.union([z.number().min(least).max(most), atMost(MOST_POINTS, 'points', checked)]);
};

/** Whether a value is a point as its schema wants it; a tenth of the time that the schema takes. */
function isPoint(value: unknown, least: number, most: number): boolean {
  if (typeof value !== 'object' || value === null) return false;
  const { at, db, ...more } = value as Record<string, unknown>;
  const within = (n: unknown, from: number, to: number): boolean =>
    typeof n === 'number' && n >= from && n <= to;
  return within(at, 0, LAST_S) && within(db, least, most) && Object.keys(more).length === 0;
}

/** A point of a moving value: seconds from the start of the master (of the album: from absolute zero of the part), and dB. */
export interface MovingPoint {
  readonly at: number;
  readonly db: number;
}
export type MovingDb = number | readonly MovingPoint[];

/** Whether a value is one and the same throughout; that value, or null where it moves. */
export function constantOf(value: MovingDb): number | null {
  if (typeof value === 'number') return value;
  const first = value[0]?.db ?? 0;
  return value.every(({ db }) => db === first) ? first : null;
}

/** The least and the most that a value comes to. */
export function rangeOf(value: MovingDb): { least: number; most: number } {
  const all = typeof value === 'number' ? [value] : value.map(({ db }) => db);
  return { least: Math.min(...all), most: Math.max(...all) };
}

/**
 * A moving value as a function of the sample: each result depends on the position alone, whatever was asked before.
 * @param rate samples a second
 */
export function valueAt(value: MovingDb, rate: number): (position: number) => number {
  const constant = constantOf(value);
  if (constant !== null) return () => constant;
  const points = value as readonly MovingPoint[];
  // Reads are mostly consecutive: the search begins at the last position.
  let place = 0;
  return (position) => {
    const at = position / rate;
    if (at < (points[place]?.at ?? 0)) place = 0;
    while (place + 1 < points.length && at >= (points[place + 1] as MovingPoint).at) place++;
    const from = points[place] as MovingPoint;
    const to = points[place + 1];
    if (!to || at <= from.at) return from.db;
    return from.db + ((to.db - from.db) * (at - from.at)) / (to.at - from.at);
  };
}

/** The points of a value; of one that does not move there are none. */
export const pointsOf = (value: MovingDb): readonly MovingPoint[] => (typeof value === 'number' ? [] : value);

/** Two points of one value lie this far apart at least, seconds. */
const APART_S = 0.001;

/**
 * A value with a point set, moved or (`to` null) taken out; without any point it is the number that the last one told.
 * @param place which point it is; null: a new one
 */
export function withPoint(value: MovingDb, place: number | null, to: MovingPoint | null): MovingDb {
  const before = pointsOf(value);
  const others = place === null ? before : before.filter((_, i) => i !== place);
  if (to === null) return others.length > 0 ? others : (before[place ?? 0]?.db ?? 0);
  // A point that comes to lie on another one takes its place.
  const apart = others.filter(({ at }) => Math.abs(at - to.at) > APART_S);
  return [...apart, { at: Math.max(0, to.at), db: to.db }].sort((a, b) => a.at - b.at);
}
