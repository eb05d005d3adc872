import { gainOfDb } from '../dsp/exponent.js';
import type { Block, PcmSource } from '../pcm/block.js';
import { coefficientsOf, memoryOf, outermostPole, runSections, tidyMemory } from './biquads.js';
import { fitSection } from './fit.js';
import { valueAt } from './automation.js';
import { lowCut } from './prototype.js';
import {
  RecursiveSource,
  settleOf,
  type Recursion,
  type RecursionKind,
  type Soon,
} from './recursive-source.js';
import { OFF_DB, type Width } from './width-settings.js';

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
