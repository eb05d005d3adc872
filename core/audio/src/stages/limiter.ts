import * as z from '../schema/z.js';
import { movingDb, constantOf } from './automation.js';
import { dbToLinear } from '../dsp/gain.js';
import { Room, type Block, type Memory, type PcmSource } from '../pcm/block.js';
import { KeptSource } from './kept-source.js';
import { NEEDS_AFTER, NEEDS_BEFORE, needsIn, smoothed, takeAway } from './limiting.js';
import { SIDE } from './peaks.js';
import { rideIsNeutral, RideSource } from './ride.js';
import { RecursiveSource, settleOf, type Recursion, type Soon } from './recursive-source.js';
import { type Stage } from './stage.js';
import { decibels, movingWords } from './stage-words.js';
import { msg } from '@oiseau/messages';

const DRIVE_DB = [-24, 24] as const;
const CEILING_DBTP = [-20, 0] as const;
const RELEASE_MS = [1, 5000] as const;

export const limiterSchema = z.strictObject({
  /** Before it, dB. */
  drive: movingDb(...DRIVE_DB),
  /** dBTP. */
  ceiling: z.number().min(CEILING_DBTP[0]).max(CEILING_DBTP[1]),
  /** ms in which 63 % of a reduction in dB is given back. */
  release: z.number().min(RELEASE_MS[0]).max(RELEASE_MS[1]),
});
export type Limiter = z.output<typeof limiterSchema>;

/** One number of the limiter as a figure. */
const figure = <F extends 'ceiling' | 'release'>(field: F) => ({
  valueOf: (limiter: Limiter) => limiter[field],
  changed: (limiter: Limiter, value: number): Limiter => ({ ...limiter, [field]: value }),
});

export const limiterStage = {
  label: msg('Limiter'),
  schema: limiterSchema.nullable().default(null),
  ...{ absent: null, added: { drive: 0, ceiling: -1, release: 100 } },
  // Where nothing exceeds its ceiling it does nothing, which is known only once everything was read.
  isNeutral: () => false,
  makeupDb: () => 0,
  words: ({ drive, ceiling }) =>
    constantOf(drive) === 0
      ? msg('limiter {ceiling}', { ceiling: decibels(ceiling) })
      : msg('limiter {ceiling}, drive {drive}', { ceiling: decibels(ceiling), drive: movingWords(drive) }),
  automated: (limiter) => [
    {
      label: msg('Drive'),
      value: limiter.drive,
      range: DRIVE_DB,
      changed: (drive) => ({ ...limiter, drive }),
    },
  ],
  figures: [
    { label: msg('Ceiling'), unit: 'dBTP', range: CEILING_DBTP, step: 0.1, ...figure('ceiling') },
    {
      label: msg('Release'),
      unit: 'ms',
      range: RELEASE_MS,
      step: 0.1,
      logarithmic: true,
      ...figure('release'),
    },
  ],
} as const satisfies Stage<Limiter>;

/** How long before a peak the gain begins to fall, seconds. */
const AHEAD_SECONDS = 0.005;
/** What is aimed at below the ceiling, dB: a gain that falls bends what lies between the samples a little. */
const MARGIN_DB = 0.035;
/** So small a reduction is none, dB. */
const NONE_DB = 1e-9;

/**
 * What the driven signal must be reduced by at each sample, dB, 0 or more, with what it gives back by and by: it falls at once and rises as
 * the release says. Both channels carry it, so that what is a recursion has a source like any other.
 */
class ReductionRun implements Recursion {
  #reduction = 0;

  constructor(readonly decay: number) {}

  run({ left, right }: Block): void {
    for (let i = 0; i < left.length; i++) {
      this.#reduction = Math.max(left[i] as number, this.decay * this.#reduction);
      if (this.#reduction < NONE_DB) this.#reduction = 0;
      left[i] = right[i] = this.#reduction;
    }
  }

  tidy(): void {
    // What is too small is taken for nothing with each sample.
  }
}

/** The memory of something that reads so many samples before the one that it makes. */
const lookedBack = ({ stretch, since }: Memory, samples: number): Memory => ({
  stretch,
  since: (position) => since(position - samples),
});

/** Reductions in dB that each sample of a driven source needs by itself, as a source: a function of the samples around it alone. */
function needsOf(source: PcmSource, { ceiling }: Limiter): PcmSource {
  const most = dbToLinear(ceiling);
  const aim = dbToLinear(ceiling - MARGIN_DB);
  const room = new Room();
  return {
    ...{ rate: source.rate, length: source.length, format: 'float64' as const },
    memory: source.memory && lookedBack(source.memory, NEEDS_BEFORE),
    read: (start, count, into) =>
      room.lend(count + NEEDS_BEFORE + NEEDS_AFTER, async (space) => {
        const audio = await source.read(start - NEEDS_BEFORE, space.left.length, space);
        const left = needsIn(audio, count, most, aim, into?.left);
        return { left, right: left };
      }),
  };
}

/** A source through a limiter: one gain for both channels, which begins to fall before a peak and is back after it (docs/rules.md 10). */
export class LimitedSource implements PcmSource {
  readonly format = 'float64' as const;
  readonly #driven: PcmSource;
  readonly #reductions: RecursiveSource;
  readonly #ceiling: number;
  readonly #ahead: number;
  readonly #room = new Room();
  #held: { readonly from: number; readonly values: Float64Array } = { from: 0, values: new Float64Array(0) };

  constructor(
    readonly source: PcmSource,
    readonly settings: Limiter,
    soon: Soon = false,
  ) {
    const decay = Math.exp(-1000 / (settings.release * source.rate));
    this.#driven = new KeptSource(
      rideIsNeutral(settings.drive) ? source : new RideSource(source, settings.drive),
    );
    this.#reductions = new RecursiveSource(
      needsOf(this.#driven, settings),
      {
        settle: settleOf(decay),
        begin: () => new ReductionRun(decay),
      },
      soon,
    );
    this.#ceiling = dbToLinear(settings.ceiling);
    this.#ahead = Math.max(1, Math.floor(AHEAD_SECONDS * source.rate) - SIDE);
  }

  get rate(): number {
    return this.source.rate;
  }
  get length(): number {
    return this.source.length;
  }
  get memory(): Memory {
    return lookedBack(this.#reductions.memory, this.#ahead);
  }

  async read(start: number, count: number, into?: Block): Promise<Block> {
    // What looks ahead goes first, so that what is written finds its samples kept.
    const reductions = await this.reductions(start, count);
    const limited = await this.#driven.read(start, count, into);
    if (reductions) takeAway(limited, reductions, this.#ceiling);
    return limited;
  }

  /** What each sample is reduced by, dB, 0 or more: no less than it needs, and smoothly on the way there; null: nothing, throughout. */
  async reductions(start: number, count: number): Promise<Float64Array | null> {
    const ahead = this.#ahead;
    const held = await this.#heldOver(start - ahead, count + 2 * ahead);
    return smoothed(held, count, ahead);
  }

  /** What is held; that of the last time is kept, since who looks ahead comes by twice. */
  async #heldOver(from: number, count: number): Promise<Float64Array> {
    const kept = this.#held;
    const to = kept.from + kept.values.length;
    const goesOn = from >= kept.from && from <= to;
    const fresh = Math.max(0, from + count - (goesOn ? to : from));
    const values = new Float64Array(count);
    const old = goesOn ? kept.values.subarray(from - kept.from, from - kept.from + count) : [];
    values.set(old);
    await this.#room.lend(fresh, async (space) => {
      const { left } = await this.#reductions.read(goesOn ? to : from, fresh, space);
      values.set(left, old.length);
    });
    this.#held = { from, values };
    return values;
  }
}

export const limited = (source: PcmSource, limiter: Limiter, soon: Soon = false): PcmSource =>
  new LimitedSource(source, limiter, soon);
