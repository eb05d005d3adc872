import { constantOf, movingDb, type MovingDb, valueAt } from './automation.js';
import { gainsOfDb } from '../dsp/exponent.js';
import { dbToLinear } from '../dsp/gain.js';
import { type Block, type Memory, type PcmSource } from '../pcm/block.js';
import { type Stage } from './stage.js';
import { movingWords } from './stage-words.js';
import { msg } from '@oiseau/messages';

/** dB. */
const RANGE = [-60, 24] as const;

/** An automated gain, dB (docs/rules.md 10). */
const rideSchema = movingDb(...RANGE);

export const rideIsNeutral = (ride: MovingDb): boolean => constantOf(ride) === 0;

export const rideStage = {
  label: msg('Gain ride'),
  schema: rideSchema.default(0),
  ...{ absent: 0, added: 0 },
  isNeutral: rideIsNeutral,
  words: (ride) => msg('gain ride {gain}', { gain: movingWords(ride) }),
  automated: (ride) => [{ label: msg('Gain ride'), value: ride, range: RANGE, changed: (value) => value }],
  figures: [],
} as const satisfies Stage<MovingDb>;

/** A source through a moving gain. */
export class RideSource implements PcmSource {
  readonly format = 'float64' as const;
  readonly #constant: number | null;
  readonly #value: (position: number) => number;

  constructor(
    readonly source: PcmSource,
    ride: MovingDb,
  ) {
    const constant = constantOf(ride);
    this.#constant = constant === null ? null : dbToLinear(constant);
    this.#value = valueAt(ride, source.rate);
  }

  get rate(): number {
    return this.source.rate;
  }
  get length(): number {
    return this.source.length;
  }
  get memory(): Memory | undefined {
    return this.source.memory;
  }

  async read(start: number, count: number, into?: Block): Promise<Block> {
    const { left, right } = await this.source.read(start, count, into);
    const constant = this.#constant;
    if (constant !== null)
      for (let i = 0; i < count; i++) {
        left[i] = (left[i] as number) * constant;
        right[i] = (right[i] as number) * constant;
      }
    else {
      const levels = new Float64Array(count);
      for (let i = 0; i < count; i++) levels[i] = this.#value(start + i);
      const gains = gainsOfDb(levels);
      for (let i = 0; i < count; i++) {
        left[i] = (left[i] as number) * (gains[i] as number);
        right[i] = (right[i] as number) * (gains[i] as number);
      }
    }
    return { left, right };
  }
}
