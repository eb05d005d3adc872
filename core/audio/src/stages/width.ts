import * as z from '../schema/z.js';
import { constantOf, movingDb, valueAt } from './automation.js';
import { gainOfDb } from '../dsp/exponent.js';
import { type Block, type PcmSource } from '../pcm/block.js';
import { coefficientsOf, memoryOf, outermostPole, runSections, tidyMemory } from './biquads.js';
import { fitSection } from './fit.js';
import { lowCut } from './prototype.js';
import {
  RecursiveSource,
  settleOf,
  type Recursion,
  type RecursionKind,
  type Soon,
} from './recursive-source.js';
import { type Stage } from './stage.js';
import { hertz, movingWords } from './stage-words.js';
import { joined, msg } from '@oiseau/messages';

/** So low a side, dB, is none. */
export const OFF_DB = -60;

/** dB, and Hz. */
const SIDE_DB = [OFF_DB, 12] as const;
const MONO_HZ = [20, 500] as const;

export const widthSchema = z.strictObject({
  /** What the side is lifted by, dB; −60 and below it is off. */
  side: movingDb(...SIDE_DB),
  /** Below this frequency in Hz nothing stays in the side; 0: nowhere. */
  monoBelow: z.union([z.literal(0), z.number().min(MONO_HZ[0]).max(MONO_HZ[1])]),
});
export type Width = z.output<typeof widthSchema>;

export const widthIsNeutral = ({ side, monoBelow }: Width): boolean =>
  constantOf(side) === 0 && monoBelow === 0;

export const widthStage = {
  label: msg('Width'),
  schema: widthSchema.nullable().default(null),
  ...{ absent: null, added: { side: 1, monoBelow: 0 } },
  isNeutral: widthIsNeutral,
  words: ({ side, monoBelow }) =>
    joined([
      ...(constantOf(side) === 0 ? [] : [msg('sides {gain}', { gain: movingWords(side) })]),
      ...(monoBelow > 0 ? [msg('mono below {frequency}', { frequency: hertz(monoBelow) })] : []),
    ]),
  automated: (width) => [
    { label: msg('Sides'), value: width.side, range: SIDE_DB, changed: (side) => ({ ...width, side }) },
  ],
  figures: [
    {
      ...{ label: msg('Mono below'), unit: 'Hz', range: [0, MONO_HZ[1]], step: 5 },
      off: { value: 0, label: msg('nowhere') },
      valueOf: ({ monoBelow }) => monoBelow,
      changed: (width, hz) => ({ ...width, monoBelow: hz > 0 ? Math.max(MONO_HZ[0], hz) : 0 }),
    },
  ],
} as const satisfies Stage<Width>;

const gainOf = (db: number): number => (db <= OFF_DB ? 0 : gainOfDb(db));

class WidthRun implements Recursion {
  readonly #memory: Float64Array;

  constructor(
    readonly value: (position: number) => number,
    readonly cut: Float64Array,
  ) {
    this.#memory = memoryOf(cut);
  }

  run({ left, right }: Block, at: number): void {
    const side = Float64Array.from(left, (value, i) => (value - (right[i] as number)) / 2);
    // Both channels of what goes through are the side: there is one of it.
    if (this.cut.length > 0) runSections({ left: side, right: side.slice() }, this.cut, this.#memory);
    for (let i = 0; i < side.length; i++) {
      const mid = ((left[i] as number) + (right[i] as number)) / 2;
      const wide = (side[i] as number) * gainOf(this.value(at + i));
      left[i] = mid + wide;
      right[i] = mid - wide;
    }
  }

  tidy(): void {
    tidyMemory(this.#memory);
  }
}

/** The width at one rate (docs/rules.md 10): the side by a moving gain, and taken out below a frequency. */
export function widthKind({ side, monoBelow }: Width, rate: number): RecursionKind {
  const sections =
    monoBelow > 0 ? lowCut(24).flatMap((each) => fitSection(each, monoBelow, rate).sections) : [];
  const cut = coefficientsOf(sections);
  return { settle: 2 * settleOf(outermostPole(cut)), begin: () => new WidthRun(valueAt(side, rate), cut) };
}

/** A source whose sides are nearer or farther. */
export const widened = (source: PcmSource, width: Width, soon: Soon = false): PcmSource =>
  new RecursiveSource(source, widthKind(width, source.rate), soon);
