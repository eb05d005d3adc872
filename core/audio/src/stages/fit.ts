import type { Biquad } from '../dsp/biquad.js';
import { powerOf, type AnalogueSection } from './prototype.js';

/** The power response of digital sections, one after the other. @param w in radians a sample */
export function digitalPower(sections: readonly Biquad[], w: number): number {
  // In powers of sin²(w/2): at the lowest frequencies nothing is lost by taking nearly equal numbers from each other.
  const p = Math.sin(w / 2) ** 2;
  const power = (x0: number, x1: number, x2: number): number =>
    Math.max(0, (x0 + x1 + x2) ** 2 - 4 * p * (x0 * x1 + x1 * x2 + 4 * x0 * x2) + 16 * p * p * x0 * x2);
  return sections.reduce((all, { b0, b1, b2, a1, a2 }) => (all * power(b0, b1, b2)) / power(1, a1, a2), 1);
}

/** Up to where a response is held against its prototype, and how near half the rate at the most. */
const HIGHEST_HZ = 20_000;
const OF_NYQUIST = 0.98;
/** What lies lower is of no account, dB. */
const FLOOR_DB = -45;
/** Half of the tolerance that docs/rules.md 10 gives, dB: below 16 kHz, and above. */
const ENOUGH_DB = { low: 0.1, high: 0.2 };
const POINTS = 32;
/** The whole tolerance, in halves of it. */
const WHOLE = 2;
/** How much denser a response is looked at that the first search does not keep to its tolerance. */
const DENSER = 4;

interface Target {
  /** Radians a sample. */
  readonly w: number;
  readonly db: number;
  /** 1 over the tolerance there; 0 outside the audible range. */
  readonly weight: number;
}

/** Frequencies at which a section is fitted: by octaves, evenly over the upper part, and close together where a narrow band works. */
function targetsOf(section: AnalogueSection, hz: number, rate: number, denser = 1): Target[] {
  const top = Math.min(HIGHEST_HZ, (OF_NYQUIST * rate) / 2);
  const low = Math.min(hz / 16, 20, top / 8);
  const points = POINTS * denser;
  const shares = Array.from({ length: points }, (_, i) => (i + 0.5) / points);
  // The narrower of both quadratics: a cut is as narrow as its zeros.
  const [two, one] =
    denser === 1 || section.below[1] / section.below[0] < section.above[1] / section.above[0]
      ? section.below
      : section.above;
  const near = shares.map((share) => hz * (1 + (one / two) * 6 * (share - 0.5)));
  const frequencies = [
    ...shares.map((share) => low * (top / low) ** share),
    ...shares.map((share) => top * share),
    ...near.filter((frequency) => frequency > low && frequency < top),
    top,
  ];
  return frequencies.map((frequency) => {
    const db = 10 * Math.log10(Math.max(1e-30, powerOf(section, hz, frequency)));
    const tolerance = frequency <= 16_000 ? ENOUGH_DB.low : ENOUGH_DB.high;
    return { w: (2 * Math.PI * frequency) / rate, db, weight: db < FLOOR_DB ? 0 : 1 / tolerance };
  });
}

/** The bilinear transform, exact at the band's frequency: it pinches towards half the rate, and is all that is needed far below it. */
function bilinear({ above, below }: AnalogueSection, hz: number, rate: number): Biquad {
  const k = Math.tan(Math.min((Math.PI * hz) / rate, 1.5));
  const transform = ([two, one, none]: readonly [number, number, number]) => {
    const [s2, s1, s0] = [two, one * k, none * k * k];
    return [s2 + s1 + s0, 2 * (s0 - s2), s2 - s1 + s0] as const;
  };
  const [b0, b1, b2] = transform(above);
  const [a0, a1, a2] = transform(below);
  return { b0: b0 / a0, b1: b1 / a0, b2: b2 / a0, a1: a1 / a0, a2: a2 / a0 };
}

/**
 * A stable quadratic 1 + c1·z⁻¹ + c2·z⁻² by two numbers that may be anything: c2 = tanh u, c1 = (1 + c2)·tanh v fill the triangle in which both
 * roots lie inside the unit circle. Zeros inside it too make the least phase there is, as the prototypes have.
 */
const quadraticOf = (u: number, v: number): { c1: number; c2: number } => {
  const c2 = Math.tanh(u);
  return { c1: (1 + c2) * Math.tanh(v), c2 };
};
const EDGE = 1 - 1e-9;
const atanh = (x: number): number => Math.atanh(Math.max(-EDGE, Math.min(EDGE, x)));
const numbersOf = (c1: number, c2: number): [number, number] => [
  atanh(c2),
  atanh(c1 / (1 + Math.max(c2, -EDGE))),
];

/** What is fitted: the logarithm of the gain, then two numbers for the zeros and two for the poles of each section. */
type Parameters = readonly number[];

/** What holds of a whole fit. */
interface Frame {
  /** Both zeros of the first section lie at 0 Hz: it is a low cut. */
  readonly zerosAtDc: boolean;
  /** No pole lies farther out: nothing may ring longer than twice what the prototype does. */
  readonly outermost: number;
}

/** How far out the slowest pole of the digital section may lie. */
function outermostOf({ below: [two, one, none] }: AnalogueSection, hz: number, rate: number): number {
  const root = one * one - 4 * two * none;
  const decay = root < 0 ? one / (2 * two) : (one - Math.sqrt(root)) / (2 * two);
  return Math.exp((-Math.PI * hz * decay) / rate);
}

function sectionsOf(p: Parameters, { zerosAtDc, outermost }: Frame): Biquad[] {
  return Array.from({ length: (p.length - 1) / 4 }, (_, i) => {
    const [zu = 0, zv = 0, pu = 0, pv = 0] = p.slice(1 + 4 * i, 5 + 4 * i);
    const gain = i === 0 ? Math.exp(p[0] ?? 0) : 1;
    const zeros = zerosAtDc && i === 0 ? { c1: -2, c2: 1 } : quadraticOf(zu, zv);
    const poles = quadraticOf(pu, pv);
    return {
      b0: gain,
      b1: gain * zeros.c1,
      b2: gain * zeros.c2,
      a1: outermost * poles.c1,
      a2: outermost ** 2 * poles.c2,
    };
  });
}

const residualsOf = (sections: readonly Biquad[], targets: readonly Target[]): number[] =>
  targets.map(({ w, db, weight }) =>
    weight === 0 ? 0 : weight * (10 * Math.log10(Math.max(1e-30, digitalPower(sections, w))) - db),
  );
const sumOfSquares = (values: readonly number[]): number =>
  values.reduce((sum, value) => sum + value * value, 0);
/** 1 or less: within half of the tolerance everywhere. */
const worstOf = (residuals: readonly number[]): number =>
  residuals.reduce((worst, each) => Math.max(worst, Math.abs(each)), 0);

const STEPS = 60;
const MOST_SECTIONS = 3;
const NUDGE = 1e-6;
/** A step that makes less than this share of the sum good is idle; after so many of them the search is over. */
const ENDS_AT = 1e-4;
const MOST_IDLE = 4;

/** Levenberg's and Marquardt's method: the least sum of squares from a beginning on. */
function fit(from: Parameters, targets: readonly Target[], frame: Frame): Parameters {
  const residuals = (p: Parameters): number[] => residualsOf(sectionsOf(p, frame), targets);
  let best = [...from];
  let now = residuals(best);
  let damping = 1e-2;
  let idle = 0;
  for (let step = 0; step < STEPS && worstOf(now) > 0.5; step++) {
    const columns = best.map((_, i) => {
      const nudged = best.map((value, j) => (j === i ? value + NUDGE : value));
      return residuals(nudged).map((value, k) => (value - (now[k] ?? 0)) / NUDGE);
    });
    const dot = (a: readonly number[], b: readonly number[]): number =>
      a.reduce((sum, value, k) => sum + value * (b[k] ?? 0), 0);
    const normal = columns.map((a, i) =>
      columns.map((b, j) => dot(a, b) * (i === j ? 1 + damping : 1) + (i === j ? 1e-12 : 0)),
    );
    const move = solve(
      normal,
      columns.map((column) => -dot(column, now)),
    );
    const tried = best.map((value, i) => value + Math.max(-2, Math.min(2, move[i] ?? 0)));
    const then = residuals(tried);
    const [before, after] = [sumOfSquares(now), sumOfSquares(then)];
    if (after < before) {
      [best, now] = [tried, then];
      if (before - after < ENDS_AT * before && ++idle === MOST_IDLE) break;
      damping = Math.max(1e-9, damping / 4);
    } else if ((damping *= 4) > 1e9) break;
  }
  return best;
}

/** Solves a small set of linear equations (Gauss, with the largest pivot). */
function solve(matrix: readonly (readonly number[])[], right: readonly number[]): number[] {
  const rows = matrix.map((row, i) => [...row, right[i] ?? 0]);
  const n = rows.length;
  for (let column = 0; column < n; column++) {
    let pivot = column;
    for (let i = column + 1; i < n; i++)
      if (Math.abs(rows[i]?.[column] ?? 0) > Math.abs(rows[pivot]?.[column] ?? 0)) pivot = i;
    const top = rows[pivot] as number[];
    rows[pivot] = rows[column] as number[];
    rows[column] = top;
    if (top[column] === 0) continue;
    for (let i = column + 1; i < n; i++) {
      const row = rows[i] as number[];
      const factor = (row[column] ?? 0) / (top[column] ?? 1);
      for (let j = column; j <= n; j++) row[j] = (row[j] ?? 0) - factor * (top[j] ?? 0);
    }
  }
  const found = new Array<number>(n).fill(0);
  for (let i = n - 1; i >= 0; i--) {
    const row = rows[i] as number[];
    const rest = found.reduce((sum, value, j) => (j > i ? sum + value * (row[j] ?? 0) : sum), 0);
    found[i] = row[i] ? ((row[n] ?? 0) - rest) / (row[i] ?? 1) : 0;
  }
  return found;
}

/** A digital section, or several, that keep to an analogue one; and where their search ended, for one that is like it. */
export interface Fitted {
  readonly sections: readonly Biquad[];
  /** Of the tolerance, at the worst frequency. */
  readonly worst: number;
  readonly parameters: Parameters;
}

/**
 * Makes digital sections that keep to an analogue one within half of the tolerance of docs/rules.md 10: the bilinear transform where that is
 * enough, else as few sections as do, found by least squares over what can be heard. What misses the whole tolerance where it is looked at
 * closely is searched for once more there, from everywhere.
 * @param near a section that is nearly the same, from which the search begins: neighbours in a moving band then have neighbouring coefficients
 * @param least how many sections there are at least
 */
export function fitSection(
  section: AnalogueSection,
  hz: number,
  rate: number,
  { near, least = 1 }: { readonly near?: Fitted | undefined; readonly least?: number } = {},
): Fitted {
  const targets = targetsOf(section, hz, rate);
  const frame: Frame = {
    zerosAtDc: section.above[1] === 0 && section.above[2] === 0,
    outermost: outermostOf(section, hz, rate),
  };
  const simple = bilinear(section, hz, rate);
  // Of a band beyond half the rate only a slope is left, for which the bilinear transform is no beginning.
  const beyond = hz > 0.45 * rate && !frame.zerosAtDc;
  const beginning = (count: number, turn = 1, bare = beyond): Parameters => {
    const scale = simple.b0 === 0 ? 1e-9 : simple.b0;
    // Zeros at half the rate lie in a corner from which no search finds a way out.
    const zeros = section.above[0] === 0 ? [-1, 1] : numbersOf(simple.b1 / scale, simple.b2 / scale);
    const own = [...zeros, ...numbersOf(simple.a1 / frame.outermost, simple.a2 / frame.outermost ** 2)];
    // Further sections begin as nothing, a little apart, so that the search has a direction.
    const further = Array.from({ length: count - 1 }, (_, i) => [
      0,
      turn * (0.6 + 0.1 * i),
      0,
      turn * (0.5 + 0.1 * i),
    ]);
    if (bare) return [0, 0, 0.2 * turn, 0, -0.2 * turn, ...further.flat()];
    return [Math.log(Math.abs(scale)), ...own, ...further.flat()];
  };
  const judged = (sections: readonly Biquad[], parameters: Parameters, by = targets): Fitted => ({
    ...{ sections, parameters },
    worst: worstOf(residualsOf(sections, by)),
  });
  const fitted = (from: Parameters, by = targets): Fitted => {
    const found = fit(from, by, frame);
    return judged(sectionsOf(found, frame), found, by);
  };
  if (near) return fitted(near.parameters);
  const tries: Fitted[] = least > 1 ? [] : [judged([simple], beginning(1))];
  for (let count = least; count <= MOST_SECTIONS; count++) {
    if (tries.some(({ worst }) => worst <= 1)) break;
    tries.push(fitted(beginning(count)));
    // Another beginning may lead elsewhere.
    if (count > 1) tries.push(fitted(beginning(count, -1)));
  }
  const best = bestOf(tries);
  const close = targetsOf(section, hz, rate, DENSER);
  const seenClosely = judged(best.sections, best.parameters, close);
  if (seenClosely.worst <= WHOLE) return best;
  const again = [seenClosely];
  for (let count = least; count <= MOST_SECTIONS && bestOf(again).worst > WHOLE; count++)
    for (const turn of count > 1 ? [1, -1] : [1])
      for (const bare of [false, true]) again.push(fitted(beginning(count, turn, bare), close));
  return bestOf(again);
}

const bestOf = (fits: readonly Fitted[]): Fitted =>
  fits.reduce((best, each) => (each.worst < best.worst ? each : best));
