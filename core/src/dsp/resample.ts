import { isInteger, type Block, type PcmSource } from '../pcm/block.js';
import { resampleRows, type Rows } from './kernels.js';

/** Stop-band attenuation designed for: 140 dB are promised, the rest is margin for the double's own noise. */
const ATTENUATION_DB = 150;

/**
 * A polyphase low-pass for one pair of rates: `up` is the output rate / gcd, `down` the input rate / gcd. Row p of the table serves output
 * positions whose fraction of an input sample is p/up; rows are filled with zeros to a multiple of 8 taps.
 */
interface Kernel extends Rows {
  /** Half of the taps that are not just filling. */
  readonly half: number;
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
  const taps = Math.ceil((2 * half) / 8) * 8;
  const beta = 0.1102 * (ATTENUATION_DB - 8.7);
  // Cut-off in cycles per input sample, doubled: the sinc's argument and its gain at once.
  const cutoff = (passHz + stopHz) / inputRate;
  const scale = cutoff / besselI0(beta);
  const table = new Float64Array(up * taps);
  for (let phase = 0; phase < up; phase++) {
    for (let tap = 0; tap < 2 * half; tap++) {
      // Row p, tap t weighs the input sample at floor(position) − half + 1 + t.
      const distance = phase / up + half - 1 - tap;
      const inside = 1 - (distance / half) ** 2;
      if (inside <= 0) continue;
      const angle = Math.PI * cutoff * distance;
      const sinc = angle === 0 ? 1 : Math.sin(angle) / angle;
      table[phase * taps + tap] = scale * sinc * besselI0(beta * Math.sqrt(inside));
    }
  }
  return { up, down, taps, half, table };
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
    const { up, down, taps, half } = this.#kernel;
    const first = Math.floor((start * down) / up) - half + 1;
    const last = Math.floor(((start + count - 1) * down) / up) - half + taps;
    const input = await this.#input(first, last - first + 1);
    const position = start * down;
    return resampleRows(this.#kernel, { phase: position % up, at: 0, count }, input);
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

/** The source itself where the rate is right already, so that its words stay untouched. */
export function atRate(source: PcmSource, rate: number): PcmSource {
  return source.rate === rate ? source : new ResampledSource(source, rate);
}

/** Whether a source delivers words that an integer of `bits` holds exactly. */
export function fitsInteger(source: PcmSource, bits: number): boolean {
  return isInteger(source.format) && Number(source.format.slice(3)) <= bits;
}
