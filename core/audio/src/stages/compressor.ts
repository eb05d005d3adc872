import * as z from '../schema/z.js';
import { DB_OF_LOG2, gainOfDb, log2 } from '../dsp/exponent.js';
import { kernels } from '../kernels/kernels.js';
import { type Block, type PcmSource } from '../pcm/block.js';
import {
  RecursiveSource,
  settleOf,
  type Recursion,
  type RecursionKind,
  type Soon,
} from './recursive-source.js';
import { type Stage } from './stage.js';
import { decibels } from './stage-words.js';
import { msg } from '@oiseau/messages';

/** The widest bend, dB. */
export const MOST_KNEE_DB = 24;

const LIMITS = {
  threshold: [-80, 0],
  ratio: [1, 20],
  attack: [0.1, 500],
  release: [1, 5000],
  knee: [0, MOST_KNEE_DB],
  makeup: [-24, 24],
} as const;
/** A number within the limits of a field. */
const within = (field: keyof typeof LIMITS) => z.number().min(LIMITS[field][0]).max(LIMITS[field][1]);

export const compressorSchema = z.strictObject({
  /** dB RMS, a full-scale sine at 0 [AES17]. */
  threshold: within('threshold'),
  /** n:1. */
  ratio: within('ratio'),
  /** ms in which 63 % of a step of the reduction in dB is made good. */
  attack: within('attack'),
  release: within('release'),
  /** dB around the threshold over which the bend goes. */
  knee: within('knee'),
  /** dB after it. */
  makeup: within('makeup'),
});
export type Compressor = z.output<typeof compressorSchema>;

export const compressorIsNeutral = ({ ratio, makeup }: Compressor): boolean => ratio === 1 && makeup === 0;

/** What a steady level is reduced by, dB, 0 or more (docs/rules.md 10). @param level dB RMS */
export function reductionOf({ threshold, ratio, knee }: Compressor, level: number): number {
  const over = level - threshold;
  const slope = 1 - 1 / ratio;
  if (over <= -knee / 2) return 0;
  if (over >= knee / 2) return over * slope;
  const into = over + knee / 2;
  return (slope * (into * into)) / (2 * knee);
}

/** One number of the compressor as a figure, within its limits. */
const figure = (field: keyof Compressor) => ({
  range: LIMITS[field],
  valueOf: (compressor: Compressor) => compressor[field],
  changed: (compressor: Compressor, value: number): Compressor => ({ ...compressor, [field]: value }),
});

export const compressorStage = {
  label: msg('Compressor'),
  schema: compressorSchema.nullable().default(null),
  absent: null,
  added: { threshold: -24, ratio: 2, attack: 20, release: 150, knee: 6, makeup: 0 },
  isNeutral: compressorIsNeutral,
  makeupDb: ({ makeup }) => makeup,
  words: ({ ratio, threshold }) =>
    msg('compressor {ratio}:1 over {threshold}', { ratio, threshold: decibels(threshold) }),
  automated: () => [],
  figures: [
    { label: msg('Threshold'), unit: 'dB', step: 0.5, ...figure('threshold') },
    { label: msg('Ratio'), unit: ': 1', step: 0.05, logarithmic: true, ...figure('ratio') },
    { label: msg('Attack'), unit: 'ms', step: 0.1, logarithmic: true, ...figure('attack') },
    { label: msg('Release'), unit: 'ms', step: 0.1, logarithmic: true, ...figure('release') },
    { label: msg('Knee'), unit: 'dB', step: 1, ...figure('knee') },
    { label: msg('Make-up'), unit: 'dB', step: 0.1, ...figure('makeup') },
  ],
} as const satisfies Stage<Compressor>;

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

/** A sample through a chain. @param from where its memory begins: a number for each pole, those of the other channel between them */
function allPass(sample: number, chain: Float64Array, memory: Float64Array, from: number): number {
  let x = sample;
  for (let i = 0; i < chain.length; i++) {
    const c = chain[i] as number;
    const y = c * x + (memory[from + 2 * i] as number);
    memory[from + 2 * i] = x - c * y;
    x = y;
  }
  return x;
}

/**
 * The power is smoothed over a part of the attack, and never over longer than this, ms: of anything but a sine it ripples, and a reduction that
 * falls faster than it comes back follows the crests.
 */
const MOST_SMOOTHED_MS = 20;
const SMOOTHED_OF_ATTACK = 3;
/** The part of that smoothing by which a step comes later; the attack is shorter by as much, so that 63 % are made good in its time. */
const SMOOTHING_DELAYS = 0.7;
/** Power that no level tells. */
const NONE = 1e-20;

interface Times {
  readonly power: number;
  readonly attack: number;
  readonly release: number;
}

/** What is left of a difference after a sample, by a time in ms in which 63 % of it is made good. */
const decayOf = (ms: number, rate: number): number => Math.exp(-1000 / (ms * rate));

/** A compressor at one rate. */
export interface CompressorDesign {
  readonly settings: Compressor;
  readonly times: Times;
  /** Both chains of all-passes, equally long. */
  readonly chains: readonly [Float64Array, Float64Array];
  /** Those of both chains, one after the other. */
  readonly coefficients: Float64Array;
}

/** Memory at rest: of each chain two numbers (left, right) a pole, then the power and the reduction. */
export const compressorMemory = ({ chains }: CompressorDesign): Float64Array =>
  new Float64Array(4 * chains[0].length + 2);

/** Doubles that the kernel needs on the way. */
const SCRATCH = 5 * 512;

/** Runs audio through a compressor, in place. @param memory kept from one call to the next */
export function runCompressor(block: Block, design: CompressorDesign, memory: Float64Array): void {
  if (!kernels) {
    runCompressorReference(block, design, memory);
    return;
  }
  const { settings, times, coefficients } = design;
  const { threshold, ratio, knee, makeup } = settings;
  const law = [times.power, times.attack, times.release, threshold, 1 - 1 / ratio, knee, makeup, NONE];
  kernels.begin();
  const audio = kernels.place(block);
  const laid = (values: ArrayLike<number>): number => {
    const at = kernels?.take(8 * values.length) ?? 0;
    kernels?.doubles(at, values.length).set(values);
    return at;
  };
  const [numbers, kept, settled] = [laid(coefficients), laid(memory), laid(law)] as const;
  const scratch = kernels.take(8 * SCRATCH);
  kernels.call.compress(audio.left, audio.right, audio.length, numbers, kept, settled, scratch);
  block.left.set(kernels.doubles(audio.left, audio.length));
  block.right.set(kernels.doubles(audio.right, audio.length));
  memory.set(kernels.doubles(kept, memory.length));
}

/** The reference in plain TypeScript: the same sums in the same order as the kernel. */
export function runCompressorReference(
  { left, right }: Block,
  { settings, times, chains }: CompressorDesign,
  memory: Float64Array,
): void {
  const [inPhase, quadrature] = chains;
  const state = 4 * inPhase.length;
  let [power, reduction] = [memory[state] as number, memory[state + 1] as number];
  const squares = (sample: number, side: 0 | 1): number => {
    const a = allPass(sample, inPhase, memory, side);
    const b = allPass(sample, quadrature, memory, 2 * inPhase.length + side);
    return a * a + b * b;
  };
  for (let i = 0; i < left.length; i++) {
    const [l, r] = [left[i] as number, right[i] as number];
    // A sine of full scale in both channels: each has 1.
    const mean = (squares(l, 0) + squares(r, 1)) / 2;
    power = mean + times.power * (power - mean);
    const wanted = reductionOf(settings, DB_OF_LOG2 * log2(Math.max(NONE, power)));
    const decay = wanted > reduction ? times.attack : times.release;
    reduction = wanted + decay * (reduction - wanted);
    const gain = gainOfDb(settings.makeup - reduction);
    left[i] = l * gain;
    right[i] = r * gain;
  }
  memory[state] = power;
  memory[state + 1] = reduction;
}

class CompressorRun implements Recursion {
  readonly #memory: Float64Array;

  constructor(readonly design: CompressorDesign) {
    this.#memory = compressorMemory(design);
  }

  run(block: Block): void {
    runCompressor(block, this.design, this.#memory);
  }

  tidy(): void {
    const memory = this.#memory;
    const power = memory.length - 2;
    for (let i = 0; i < power; i++) if (Math.abs(memory[i] as number) < 1e-30) memory[i] = 0;
    if ((memory[power] as number) < NONE) memory[power] = 0;
    if ((memory[power + 1] as number) < 1e-12) memory[power + 1] = 0;
  }
}

/** A compressor's numbers at one rate. */
export function compressorDesign(settings: Compressor, rate: number): CompressorDesign {
  const smoothing = Math.min(MOST_SMOOTHED_MS, settings.attack / SMOOTHED_OF_ATTACK);
  const times = {
    power: decayOf(smoothing, rate),
    attack: decayOf(settings.attack - SMOOTHING_DELAYS * smoothing, rate),
    release: decayOf(settings.release, rate),
  };
  const chains = [NETWORK.inPhase, NETWORK.quadrature].map((poles) =>
    Float64Array.from(poles, (hz) => allPassOf(hz, rate)),
  ) as [Float64Array, Float64Array];
  const coefficients = Float64Array.from(chains.flatMap((chain) => [...chain]));
  return { settings, times, chains, coefficients };
}

/** The compressor at one rate: one gain for both channels. */
export function compressorKind(settings: Compressor, rate: number): RecursionKind {
  const design = compressorDesign(settings, rate);
  const { times, chains } = design;
  const slowest = Math.max(...chains.flatMap((chain) => [...chain].map(Math.abs)));
  const settle = settleOf(Math.max(times.attack, times.release)) + settleOf(slowest) + settleOf(times.power);
  return { settle, begin: () => new CompressorRun(design) };
}

/** A source through a compressor. */
export const compressed = (source: PcmSource, settings: Compressor, soon: Soon = false): PcmSource =>
  new RecursiveSource(source, compressorKind(settings, source.rate), soon);
