import { dbToLinear } from '../dsp/gain.js';
import type { Block, PcmSource } from '../pcm/block.js';
import { z } from '../schema/z.js';
import { RecursiveSource, settleOf, type Recursion, type RecursionKind } from './recursive-source.js';

export const compressorSchema = z.strictObject({
  /** dB RMS, a full-scale sine at 0 [AES17]. */
  threshold: z.number().min(-80).max(0),
  /** n:1. */
  ratio: z.number().min(1).max(20),
  /** ms in which 63 % of a step of the reduction in dB is made good. */
  attack: z.number().min(0.1).max(500),
  release: z.number().min(1).max(5000),
  /** dB around the threshold over which the bend goes. */
  knee: z.number().min(0).max(40),
  /** dB after it. */
  makeup: z.number().min(-24).max(24),
});
export type Compressor = z.output<typeof compressorSchema>;

export const compressorIsNeutral = ({ ratio, makeup }: Compressor): boolean => ratio === 1 && makeup === 0;

/** What a steady level is reduced by, dB, 0 or more (docs/rules.md 10). @param level dB RMS */
export function reductionOf({ threshold, ratio, knee }: Compressor, level: number): number {
  const over = level - threshold;
  const slope = 1 - 1 / ratio;
  if (over <= -knee / 2) return 0;
  if (over >= knee / 2) return over * slope;
  return (slope * (over + knee / 2) ** 2) / (2 * knee);
}

/**
 * Two chains of all-passes of the first order whose outputs are a quarter of a period apart: of a sine the sum of both squares is its power at
 * every moment, without a ripple and without waiting for a period. Their poles lie evenly by octaves and go to the chains by turns; far from
 * both ends the angle between the chains then is 90° on the average, and off it by less than a tenth of a degree.
 */
const LOWEST_HZ = 4;
const HIGHEST_HZ = 22_000;
const POLES = 14;
const poles = Array.from(
  { length: POLES },
  (_, i) => LOWEST_HZ * (HIGHEST_HZ / LOWEST_HZ) ** ((i + 0.5) / POLES),
);
const NETWORK = {
  inPhase: poles.filter((_, i) => i % 2 === 0),
  quadrature: poles.filter((_, i) => i % 2 === 1),
};

/** An all-pass (c + z⁻¹)/(1 + c·z⁻¹) for each pole. */
const allPassOf = (hz: number, rate: number): number => {
  const k = Math.tan(Math.min((Math.PI * hz) / rate, 1.5));
  return (k - 1) / (k + 1);
};

function allPass(sample: number, coefficients: Float64Array, memory: Float64Array): number {
  let x = sample;
  for (let i = 0; i < coefficients.length; i++) {
    const c = coefficients[i] as number;
    const y = c * x + (memory[i] as number);
    memory[i] = x - c * y;
    x = y;
  }
  return x;
}

/** The power is smoothed over a part of the attack, and never over longer than this, ms. */
const MOST_SMOOTHED_MS = 5;
const SMOOTHED_OF_ATTACK = 10;
/** Power that no level tells. */
const NONE = 1e-20;

interface Times {
  readonly power: number;
  readonly attack: number;
  readonly release: number;
}

/** What is left of a difference after a sample, by a time in ms in which 63 % of it is made good. */
const decayOf = (ms: number, rate: number): number => Math.exp(-1000 / (ms * rate));

class CompressorRun implements Recursion {
  readonly #memories: readonly Float64Array[];
  #power = 0;
  #reduction = 0;

  constructor(
    readonly settings: Compressor,
    readonly times: Times,
    readonly chains: readonly [Float64Array, Float64Array],
  ) {
    const [inPhase, quadrature] = chains;
    this.#memories = [inPhase, quadrature, inPhase, quadrature].map(
      (chain) => new Float64Array(chain.length),
    );
  }

  run({ left, right }: Block): void {
    const { settings, times, chains } = this;
    const [a, b, c, d] = this.#memories as [Float64Array, Float64Array, Float64Array, Float64Array];
    for (let i = 0; i < left.length; i++) {
      const [l, r] = [left[i] as number, right[i] as number];
      const squares =
        allPass(l, chains[0], a) ** 2 +
        allPass(l, chains[1], b) ** 2 +
        allPass(r, chains[0], c) ** 2 +
        allPass(r, chains[1], d) ** 2;
      // A sine of full scale in both channels: each has 1.
      this.#power = squares / 2 + times.power * (this.#power - squares / 2);
      const level = 10 * Math.log10(Math.max(NONE, this.#power));
      const wanted = reductionOf(settings, level);
      const decay = wanted > this.#reduction ? times.attack : times.release;
      this.#reduction = wanted + decay * (this.#reduction - wanted);
      const gain = dbToLinear(settings.makeup - this.#reduction);
      left[i] = l * gain;
      right[i] = r * gain;
    }
  }

  tidy(): void {
    for (const memory of this.#memories)
      for (let i = 0; i < memory.length; i++) if (Math.abs(memory[i] as number) < 1e-30) memory[i] = 0;
    if (this.#power < NONE) this.#power = 0;
    if (this.#reduction < 1e-12) this.#reduction = 0;
  }
}

/** The compressor at one rate: one gain for both channels. */
export function compressorKind(settings: Compressor, rate: number): RecursionKind {
  const power = decayOf(Math.min(MOST_SMOOTHED_MS, settings.attack / SMOOTHED_OF_ATTACK), rate);
  const times = { power, attack: decayOf(settings.attack, rate), release: decayOf(settings.release, rate) };
  const chains = [NETWORK.inPhase, NETWORK.quadrature].map((poles) =>
    Float64Array.from(poles, (hz) => allPassOf(hz, rate)),
  ) as [Float64Array, Float64Array];
  const slowest = Math.max(...chains.flatMap((chain) => [...chain].map(Math.abs)));
  const settle = settleOf(Math.max(times.attack, times.release)) + settleOf(slowest) + settleOf(power);
  return { settle, begin: () => new CompressorRun(settings, times, chains) };
}

/** A source through a compressor. */
export const compressed = (source: PcmSource, settings: Compressor): PcmSource =>
  new RecursiveSource(source, compressorKind(settings, source.rate));
