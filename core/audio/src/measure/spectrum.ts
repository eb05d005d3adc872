import { kernels, type Kernels, type Placed } from '../kernels/kernels.js';
import type { Block } from '../pcm/block.js';
import { Fft } from '../dsp/fft.js';
import { addTo, beforeNext, type JoinedMeter } from './joined-meter.js';
import { UpperEndMeter, type UpperEnd, type UpperEndState } from './upper-edge.js';

/** Bins no wider than this, in Hz, so that the lowest bands are told apart. */
const WIDEST_BIN_HZ = 6;

/** Nominal mid-band frequencies of the third octaves from 25 Hz to 20 kHz [IEC 61260-1], in Hz. */
export const THIRD_OCTAVES_HZ = [
  25, 31.5, 40, 50, 63, 80, 100, 125, 160, 200, 250, 315, 400, 500, 630, 800, 1000, 1250, 1600, 2000, 2500,
  3150, 4000, 5000, 6300, 8000, 10_000, 12_500, 16_000, 20_000,
] as const;
/** Steps from 1 kHz: band x is centred on 1000 · 10^(x/10) and reaches half a step to each side. */
const FIRST_STEP = -16;

/** The windows that begin in a stretch. */
export interface SpectrumState {
  readonly power: Float64Array;
  readonly windows: number;
  readonly upper: UpperEndState;
}

/**
 * The long-term average spectrum in third octaves: both channels together, in windows of Hann's shape laid end to end. A
 * full-scale sine in both channels reads 0 dB in its band.
 */
export class SpectrumMeter implements JoinedMeter<SpectrumState> {
  readonly #fft: Fft;
  readonly #window: Float64Array;
  readonly #re: Float64Array;
  readonly #im: Float64Array;
  readonly #power: Float64Array;
  /** The last window alone. */
  readonly #moment: Float64Array;
  readonly #upper: UpperEndMeter;
  #filled = 0;
  #windows = 0;
  /** Samples that belong to a window which has begun before the start. */
  #skip: number;

  /** @param start sample at which what is pushed begins */
  constructor(
    readonly rate: number,
    start = 0,
  ) {
    const size = sizeFor(rate);
    this.#fft = Fft.of(size);
    this.#window = hann(size);
    this.#re = new Float64Array(size);
    this.#im = new Float64Array(size);
    this.#power = new Float64Array(size / 2 + 1);
    this.#moment = new Float64Array(size / 2 + 1);
    this.#upper = new UpperEndMeter(rate, size, fullScale(size), Math.ceil(start / size));
    this.#skip = beforeNext(start, size);
  }

  get state(): SpectrumState {
    return { power: this.#power, windows: this.#windows, upper: this.#upper.state };
  }

  join({ power, windows, upper }: SpectrumState): void {
    addTo(this.#power, power);
    this.#windows += windows;
    this.#upper.join(upper);
  }

  /** What follows the stretch, for the window that has begun in it. */
  trail({ left, right }: Block): void {
    const rest = this.#filled > 0 ? this.#fft.size - this.#filled : 0;
    this.push({ left: left.subarray(0, rest), right: right.subarray(0, rest) });
  }

  /** Nothing follows any more: of a source shorter than one window there is no better picture than the one filled up with silence. */
  end(): void {
    if (this.#windows > 0) return;
    this.#re.fill(0, this.#filled);
    this.#im.fill(0, this.#filled);
    this.#close();
  }

  /** Samples of a window; windows begin at multiples of it. */
  static window(rate: number): number {
    return sizeFor(rate);
  }

  push(block: Block): void {
    const { size } = this.#fft;
    const skipped = Math.min(this.#skip, block.left.length);
    this.#skip -= skipped;
    // A window that ends in the midst of a block is transformed where the block may lie.
    const isCut = this.#filled + block.left.length - skipped > size;
    const [left, right] = isCut ? [block.left.slice(), block.right.slice()] : [block.left, block.right];
    for (let at = skipped; at < left.length;) {
      const end = Math.min(left.length, at + size - this.#filled);
      this.#re.set(left.subarray(at, end), this.#filled);
      this.#im.set(right.subarray(at, end), this.#filled);
      this.#filled += end - at;
      at = end;
      if (this.#filled === size) this.#close();
    }
  }

  /** The same for a block that lies in the memory of the kernels, and is used up. */
  pushPlaced(machine: Kernels, placed: Placed): void {
    const isWindow = this.#skip === 0 && this.#filled === 0 && placed.length === this.#fft.size;
    if (isWindow) this.#transformPlaced(machine, placed);
    else this.push(machine.view(placed));
  }

  #close(): void {
    if (kernels) {
      kernels.begin();
      this.#transformPlaced(kernels, kernels.place({ left: this.#re, right: this.#im }));
    } else {
      this.#transformReference();
      this.#upper.push(this.#moment);
      this.#add();
    }
  }

  #add(): void {
    addTo(this.#power, this.#moment);
    this.#filled = 0;
    this.#windows++;
  }

  #transformPlaced(machine: Kernels, placed: Placed): void {
    const { size } = this.#fft;
    const weights = machine.table(this.#window);
    machine.call.multiply(placed.left, weights, size);
    machine.call.multiply(placed.right, weights, size);
    const { re, im } = this.#fft.transformPlaced(machine, { re: placed.left, im: placed.right });
    const power = machine.take(8 * this.#moment.length);
    machine.call.powers(re, im, size, power);
    const { ends } = this.#upper;
    const bands = machine.take(8 * ends.length);
    machine.call.sumRuns(power, machine.table(ends), ends.length, bands);
    this.#upper.pushBands(machine.doubles(bands, ends.length).slice());
    this.#moment.set(machine.doubles(power, this.#moment.length));
    this.#add();
  }

  /** The reference in plain TypeScript: the same sums as the kernels. */
  #transformReference(): void {
    const { size } = this.#fft;
    const re = this.#re;
    const im = this.#im;
    for (let i = 0; i < size; i++) {
      const weight = this.#window[i] as number;
      re[i] = (re[i] as number) * weight;
      im[i] = (im[i] as number) * weight;
    }
    // Left and right as one complex signal: |X(k)|² + |X(−k)|² is twice the power of both channels together.
    this.#fft.transformReference(re, im);
    for (let k = 1; k < size / 2; k++) {
      const a = re[k] as number;
      const b = im[k] as number;
      const c = re[size - k] as number;
      const d = im[size - k] as number;
      this.#moment[k] = (a * a + b * b + c * c + d * d) / 2;
    }
  }

  /** dB for each of THIRD_OCTAVES_HZ; null where nothing is there, or where the band reaches past half the rate. */
  result(): (number | null)[] {
    this.end();
    const { size } = this.#fft;
    const full = this.#windows * fullScale(size);
    return THIRD_OCTAVES_HZ.map((_, i) => {
      const from = this.#binOf(FIRST_STEP + i - 0.5);
      const to = this.#binOf(FIRST_STEP + i + 0.5);
      if (to > size / 2) return null;
      const sum = powerBetween(this.#power, from, to);
      return sum > 0 ? 10 * Math.log10(sum / full) : null;
    });
  }

  /** The upper end of it in the brightest moments. To be asked for after `result`. */
  upperEnd(): UpperEnd | null {
    return this.#upper.result();
  }

  #binOf(step: number): number {
    return (1000 * 10 ** (step / 10) * this.#fft.size) / this.rate;
  }
}

const sizeFor = (rate: number): number => 2 ** Math.ceil(Math.log2(rate / WIDEST_BIN_HZ));

/** The power of a sine of amplitude 1 in both channels: N²·(Σw/N)²/4 each, spread by the window over ENBW = 1.5 bins. */
const fullScale = (size: number): number => 2 * (size / 4) ** 2 * 1.5;

/** Windows of Hann’s shape, made once for each size. */
const windows = new Map<number, Float64Array>();

function hann(size: number): Float64Array {
  const known = windows.get(size);
  if (known) return known;
  const shape = Float64Array.from(
    { length: size },
    (_, n) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (n + 0.5)) / size),
  );
  windows.set(size, shape);
  return shape;
}

/** Power between two places on the axis of bins; bin k covers [k − ½, k + ½), and a bin on the edge counts by its share. */
function powerBetween(power: Float64Array, from: number, to: number): number {
  let sum = 0;
  for (let k = Math.max(1, Math.round(from)); k <= Math.min(power.length - 1, Math.round(to)); k++) {
    const share = Math.min(to, k + 0.5) - Math.max(from, k - 0.5);
    sum += share * (power[k] as number);
  }
  return sum;
}
