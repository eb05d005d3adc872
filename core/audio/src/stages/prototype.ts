/** The analogue prototypes of the bands (docs/rules.md 10), section by section: each is a quotient of two quadratics in s, normalised to the band's frequency. */
export interface AnalogueSection {
  /** Coefficients of s², s and 1. */
  readonly above: readonly [number, number, number];
  readonly below: readonly [number, number, number];
}

/** Damping of the sections of a Butterworth filter of 12 and 24 dB an octave: 1/Q of each. */
const BUTTERWORTH = {
  12: [Math.SQRT2],
  24: [2 * Math.cos(Math.PI / 8), 2 * Math.cos((3 * Math.PI) / 8)],
} as const;
export type Slope = keyof typeof BUTTERWORTH;

/** @param db gain of the bell at its frequency */
export function bell(db: number, q: number): AnalogueSection {
  const a = 10 ** (db / 40);
  return { above: [1, a / q, 1], below: [1, 1 / (a * q), 1] };
}

/** @param db gain far below the frequency */
export function lowShelf(db: number, q: number): AnalogueSection {
  const a = 10 ** (db / 40);
  const root = Math.sqrt(a) / q;
  return { above: [a, a * root, a * a], below: [a, root, 1] };
}

/** @param db gain far above the frequency */
export function highShelf(db: number, q: number): AnalogueSection {
  const a = 10 ** (db / 40);
  const root = Math.sqrt(a) / q;
  return { above: [a * a, a * root, a], below: [1, root, a] };
}

export const lowCut = (slope: Slope): AnalogueSection[] =>
  BUTTERWORTH[slope].map((damping) => ({ above: [1, 0, 0], below: [1, damping, 1] }));

export const highCut = (slope: Slope): AnalogueSection[] =>
  BUTTERWORTH[slope].map((damping) => ({ above: [0, 0, 1], below: [1, damping, 1] }));

/** Power of a quadratic at s = i·w. */
const powerAt = ([two, one, none]: readonly [number, number, number], w: number): number =>
  (none - two * w * w) ** 2 + (one * w) ** 2;

/** The power response of a section at a frequency. @param hz the frequency of the band */
export function powerOf({ above, below }: AnalogueSection, hz: number, frequency: number): number {
  const w = frequency / hz;
  return powerAt(above, w) / powerAt(below, w);
}
