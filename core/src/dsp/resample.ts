import { isInteger, type Block, type PcmSource } from '../pcm/block.js';

/** Stop-band attenuation designed for: 140 dB are promised, the rest is margin for the double's own noise. */
const ATTENUATION_DB = 150;

/** Half-width and table of a polyphase low-pass for one pair of rates. */
interface Kernel {
  /** Phases: output rate / gcd. */
  readonly up: number;
  /** Input samples that `up` output samples advance: input rate / gcd. */
  readonly down: number;
  /** Taps per phase, even. */
  readonly taps: number;
  /** `up` rows of `taps`; row p serves output positions whose fraction of an input sample is p/up. */
  readonly table: Float64Array;
}

function gcd(a: number, b: number): number {
  return b === 0 ? a : gcd(b, a % b);
}

/**
 * Edges of the low-pass in Hz (trade.md 5). The pass band reaches 20 kHz at the CD's family of rates and
 * grows with the lower of the two rates. Going down to 44.1 kHz, what lies up to 24.1 kHz may fold back only
 * to above 20 kHz, which buys a shorter filter; going up, everything over the source's Nyquist is an image.
 */
export function filterEdges(inputRate: number, outputRate: number): { passHz: number; stopHz: number } {
  const lower = Math.min(inputRate, outputRate);
  const family = lower / 44_100;
  const passHz = 20_000 * (family < 1 ? family : Math.floor(family));
  const stopHz = outputRate < inputRate && lower === 44_100 ? 24_100 : lower / 2;
  return { passHz, stopHz };
}

/** Modified Bessel function of the first kind, order 0, by its power series. */
function besselI0(x: number): number {
  let sum = 1;
  let term = 1;
  for (let k = 1; term > sum * 1e-17; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}

/** A Kaiser-windowed sinc: A dB need (A − 7.95)/(2.285·Δω) taps and β = 0.1102(A − 8.7) [Kaiser 1974]. */
function designKernel(inputRate: number, outputRate: number): Kernel {
  const divisor = gcd(inputRate, outputRate);
  const up = outputRate / divisor;
  const down = inputRate / divisor;
  const { passHz, stopHz } = filterEdges(inputRate, outputRate);
  const transition = (2 * Math.PI * (stopHz - passHz)) / inputRate;
  const half = Math.ceil((ATTENUATION_DB - 7.95) / (2.285 * transition) / 2) + 1;
  const taps = 2 * half;
  const beta = 0.1102 * (ATTENUATION_DB - 8.7);
  // Cut-off in cycles per input sample, doubled: the sinc's argument and its gain at once.
  const cutoff = (passHz + stopHz) / inputRate;
  const scale = cutoff / besselI0(beta);
  const table = new Float64Array(up * taps);
  for (let phase = 0; phase < up; phase++) {
    for (let tap = 0; tap < taps; tap++) {
      // Row p, tap t weighs the input sample at floor(position) − half + 1 + t.
      const distance = phase / up + half - 1 - tap;
      const inside = 1 - (distance / half) ** 2;
      if (inside <= 0) continue;
      const angle = Math.PI * cutoff * distance;
      const sinc = angle === 0 ? 1 : Math.sin(angle) / angle;
      table[phase * taps + tap] = scale * sinc * besselI0(beta * Math.sqrt(inside));
    }
  }
  return { up, down, taps, table };
}

const kernels = new Map<string, Kernel>();

function kernelFor(inputRate: number, outputRate: number): Kernel {
  const key = `${inputRate}>${outputRate}`;
  let kernel = kernels.get(key);
  if (!kernel) kernels.set(key, (kernel = designKernel(inputRate, outputRate)));
  return kernel;
}

/** `round(frames · out/in)` of trade.md 5. */
export function resampledLength(length: number, inputRate: number, outputRate: number): number {
  return Math.round((length * outputRate) / inputRate);
}

/**
 * A source at another rate: linear phase, delay compensated, double precision. Each output sample is computed
 * from the input alone, so any way of cutting the reads into blocks gives the same bits. Input beyond the ends
 * of the source counts as silence.
 */
export class ResampledSource implements PcmSource {
  readonly length: number;
  /** Resampled words are no longer the source's: they need a double. */
  readonly format = 'float64' as const;
  readonly #kernel: Kernel;
  /** The input of the last read: successive blocks overlap by a filter's length, which need not be read twice. */
  #last: { start: number; block: Block } | undefined;

  constructor(
    readonly source: PcmSource,
    readonly rate: number,
  ) {
    this.#kernel = kernelFor(source.rate, rate);
    this.length = resampledLength(source.length, source.rate, rate);
  }

  async read(start: number, count: number): Promise<Block> {
    const { up, down, taps, table } = this.#kernel;
    const half = taps / 2;
    const first = Math.floor((start * down) / up) - half + 1;
    const last = Math.floor(((start + count - 1) * down) / up) + half;
    const input = await this.#input(first, last - first + 1);
    const left = new Float64Array(count);
    const right = new Float64Array(count);
    for (let i = 0; i < count; i++) {
      const position = (start + i) * down;
      const whole = Math.floor(position / up);
      convolve(table, (position - whole * up) * taps, taps, input, whole - half + 1 - first, left, right, i);
    }
    return { left, right };
  }

  async #input(start: number, count: number): Promise<Block> {
    const kept = this.#last;
    const overlap = kept ? kept.start + kept.block.left.length - start : 0;
    let block: Block;
    if (kept && start >= kept.start && overlap > 0 && overlap < count) {
      const fresh = await this.source.read(start + overlap, count - overlap);
      block = { left: new Float64Array(count), right: new Float64Array(count) };
      block.left.set(kept.block.left.subarray(start - kept.start));
      block.right.set(kept.block.right.subarray(start - kept.start));
      block.left.set(fresh.left, overlap);
      block.right.set(fresh.right, overlap);
    } else {
      block = await this.source.read(start, count);
    }
    this.#last = { start, block };
    return block;
  }
}

/**
 * One output sample of both channels: the hot loop. Even and odd taps (their number is even) are summed apart, since a
 * processor can then work on the next product while the last sum is still under way.
 */
function convolve(
  table: Float64Array,
  row: number,
  taps: number,
  input: Block,
  at: number,
  left: Float64Array,
  right: Float64Array,
  to: number,
): void {
  const inLeft = input.left;
  const inRight = input.right;
  let evenLeft = 0;
  let oddLeft = 0;
  let evenRight = 0;
  let oddRight = 0;
  for (let t = 0; t < taps; t += 2) {
    const even = table[row + t] as number;
    const odd = table[row + t + 1] as number;
    evenLeft += even * (inLeft[at + t] as number);
    evenRight += even * (inRight[at + t] as number);
    oddLeft += odd * (inLeft[at + t + 1] as number);
    oddRight += odd * (inRight[at + t + 1] as number);
  }
  left[to] = evenLeft + oddLeft;
  right[to] = evenRight + oddRight;
}

/** The source itself where the rate is right already, so that its words stay untouched. */
export function atRate(source: PcmSource, rate: number): PcmSource {
  return source.rate === rate ? source : new ResampledSource(source, rate);
}

/** Whether a source delivers words that an integer of `bits` holds exactly. */
export function fitsInteger(source: PcmSource, bits: number): boolean {
  return isInteger(source.format) && Number(source.format.slice(3)) <= bits;
}
