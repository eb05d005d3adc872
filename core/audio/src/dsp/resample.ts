import { kernels, type Kernels, type Placed } from '../kernels/kernels.js';
import { CHANNELS, isInteger, silence, type Block, type PcmSource } from '../pcm/block.js';
import { Fft } from './fft.js';
import { lowPass } from './kaiser.js';
import { joined, SlidingInput } from './sliding-input.js';
import { quietRuns } from './quiet-runs.js';

/** Edges of a low-pass, in Hz. */
interface Edges {
  readonly passHz: number;
  readonly stopHz: number;
}

function gcd(a: number, b: number): number {
  return b === 0 ? a : gcd(b, a % b);
}

/**
 * Edges of the low-pass in Hz (docs/rules.md 5). The pass band reaches 20 kHz at the CD's family of rates and
 * grows with the lower of the two rates. Going down to 44.1 kHz, what lies up to 24.1 kHz may fold back only
 * to above 20 kHz, which buys a shorter filter; going up, everything over the source's Nyquist is an image.
 */
export function filterEdges(inputRate: number, outputRate: number): Edges {
  const lower = Math.min(inputRate, outputRate);
  const family = lower / 44_100;
  const passHz = 20_000 * (family < 1 ? family : Math.floor(family));
  const stopHz = outputRate < inputRate && lower === 44_100 ? 24_100 : lower / 2;
  return { passHz, stopHz };
}

/** `round(frames · out/in)` of docs/rules.md 5. */
export function resampledLength(length: number, inputRate: number, outputRate: number): number {
  return Math.round((length * outputRate) / inputRate);
}

/** A block of output from a window of input, by way of their spectra: the input’s bins, weighed by the filter, are the output’s. */
export interface Conversion {
  /** Input samples to a whole number `up` of output samples. */
  readonly down: number;
  readonly up: number;
  /** Of the window of input, and of the output that it makes. */
  readonly forward: Fft;
  readonly back: Fft;
  /** Input samples of a window before, and after, those that a block stands for: no fewer than the filter reaches. */
  readonly lead: number;
  /** Output samples in a block, and the input samples that it stands for. */
  readonly block: number;
  readonly stride: number;
  /** The highest bin that the filter lets through. */
  readonly top: number;
  /** Weights of bins 0 to `top`, and of bins −top to −1. */
  readonly above: Float64Array;
  readonly below: Float64Array;
  /** Input samples to each side of a moment that its value depends on. */
  readonly reach: number;
}

/** A window is so many times as long as what it needs at each end: of the work an eighth is done twice. */
const WINDOW_OF_LEAD = 16;
/** The least factor of both sizes: transforms are made of it. */
const LEAST_FACTOR = 8;

function design(inputRate: number, outputRate: number): Conversion {
  const divisor = gcd(inputRate, outputRate);
  const up = outputRate / divisor;
  const down = inputRate / divisor;
  const { passHz, stopHz } = filterEdges(inputRate, outputRate);
  const filter = lowPass(passHz, stopHz, inputRate);
  const lead = down * Math.ceil((filter.half + 1) / down);
  let factor = LEAST_FACTOR;
  while (down * factor < WINDOW_OF_LEAD * lead) factor *= 2;
  const forward = Fft.of(down * factor);
  const back = Fft.of(up * factor);
  const seconds = forward.size / inputRate;
  const top = Math.min(Math.ceil(stopHz * seconds), forward.size / 2 - 1);
  const bins = spectrumOf(filter, inputRate / Math.max(inputRate, outputRate), up > down ? back : forward);
  const weight = (k: number): number => (k <= top ? (bins[k] as number) / forward.size : 0);
  const periods = factor - (2 * lead) / down;
  return {
    ...{ down, up, forward, back, lead, top, reach: filter.half },
    ...{ block: up * periods, stride: down * periods },
    above: Float64Array.from({ length: top + 2 }, (_, k) => weight(k)),
    below: Float64Array.from({ length: top + 1 }, (_, i) => weight(top - i)),
  };
}

/** What a filter makes of each frequency, from its samples `step` apart. */
function spectrumOf({ half, at }: ReturnType<typeof lowPass>, step: number, fft: Fft): Float64Array {
  const re = new Float64Array(fft.size);
  for (let n = -Math.floor(half / step); n * step <= half; n++)
    re[(n + fft.size) % fft.size] = step * at(n * step);
  fft.transform(re, new Float64Array(fft.size));
  return re;
}

/** Made once for each pair of rates: the kernels keep their tables. */
const conversions = new Map<string, Conversion>();

/** @param inputRate, outputRate in Hz, two of those that are read */
export function conversionFor(inputRate: number, outputRate: number): Conversion {
  const key = `${inputRate} ${outputRate}`;
  const conversion = conversions.get(key) ?? design(inputRate, outputRate);
  conversions.set(key, conversion);
  return conversion;
}

/** What is at hand to read a source at another rate. */
interface Work {
  readonly conversion: Conversion;
  readonly input: SlidingInput;
  readonly block: Block;
}

/**
 * A source at another rate: linear phase, delay compensated, double precision. It is made in blocks of a grid that is fixed to the source, so
 * any way of cutting the reads gives the same bits. Input beyond the ends of the source counts as silence.
 */
class ResampledSource implements PcmSource {
  readonly length: number;
  /** Resampled words are no longer the source's: they need a double. */
  readonly format = 'float64' as const;
  /** Created on first read: an album has many sources that are never read. */
  #work: Work | undefined;
  /** Place on the grid of the block that was made last, in which who reads on begins. */
  #made = NaN;

  constructor(
    readonly source: PcmSource,
    readonly rate: number,
  ) {
    this.length = resampledLength(source.length, source.rate, rate);
  }

  async read(start: number, count: number, into: Block = silence(count)): Promise<Block> {
    const { conversion, input, block } = (this.#work ??= this.#begin());
    const { lead, forward, stride, block: size } = conversion;
    for (let at = start; at < start + count;) {
      const index = Math.floor(at / size);
      const from = at - index * size;
      const taken = Math.min(size - from, start + count - at);
      if (index !== this.#made) {
        const first = index * stride - lead;
        if (kernels && this.source.fetch) {
          const fetched = await this.source.fetch(first, forward.size);
          // Nothing is awaited from here on.
          kernels.begin();
          const window = kernels.room(forward.size);
          fetched(kernels, window);
          convertPlaced(kernels, conversion, window, block);
        } else {
          await input.read(first, forward.size, (...window) => {
            if (kernels) {
              kernels.begin();
              convertPlaced(kernels, conversion, kernels.place(...window), block);
            } else convertReference(conversion, window, block);
          });
        }
        this.#made = index;
      }
      for (const channel of CHANNELS)
        into[channel].set(block[channel].subarray(from, from + taken), at - start);
      at += taken;
    }
    return into;
  }

  #begin(): Work {
    const conversion = conversionFor(this.source.rate, this.rate);
    return {
      conversion,
      input: new SlidingInput(this.source, 2 * conversion.lead),
      block: silence(conversion.block),
    };
  }
}

/**
 * Makes a block, in the memory of the kernels. Their window holds as many samples as the first transform has, and is overwritten.
 * @param into takes the block
 */
export function convertPlaced(
  machine: Kernels,
  conversion: Conversion,
  { left, right }: Placed,
  into: Block,
): void {
  const { forward, back, top, lead, up, down, block: size } = conversion;
  const input = { left: machine.doubles(left, forward.size), right: machine.doubles(right, forward.size) };
  const alike = machine.call.alike(left, right, forward.size) === 1;
  const quiet = { ...quietOutputs(conversion, input), alike };
  const bins = forward.transformPlaced(machine, { re: left, im: right });
  const [above, below] = [machine.table(conversion.above), machine.table(conversion.below)];
  const carried = (from: number): number => {
    const to = machine.take(8 * back.size);
    machine.call.carryBins(from, forward.size, to, back.size, top, above, below);
    return to;
  };
  // Swapped, which makes the inverse of the transform; what comes out is swapped as well.
  const made = back.transformPlaced(machine, { re: carried(bins.im), im: carried(bins.re) });
  const skip = 8 * ((lead * up) / down);
  into.left.set(machine.doubles(made.im + skip, size));
  into.right.set(machine.doubles(made.re + skip, size));
  quieten(into, quiet);
}

/** The reference in plain TypeScript: the same sums in the same order as the kernels. */
export function convertReference(conversion: Conversion, window: readonly Block[], into: Block): void {
  const { forward, back, top, lead, up, down, block: size, above, below } = conversion;
  const input = window.reduce(joined);
  const alike = input.left.every((value, i) => value === input.right[i]);
  const quiet = { ...quietOutputs(conversion, input), alike };
  const [re, im] = [input.left.slice(), input.right.slice()];
  forward.transformReference(re, im);
  const carried = (from: Float64Array): Float64Array => {
    const to = new Float64Array(back.size);
    for (let k = 0; k <= top; k++) to[k] = (from[k] as number) * (above[k] as number);
    for (let i = 0; i < top; i++) {
      const at = back.size - top + i;
      to[at] = (to[at] as number) + (from[forward.size - top + i] as number) * (below[i] as number);
    }
    return to;
  };
  const made = { left: carried(re), right: carried(im) };
  back.transformReference(made.right, made.left);
  const skip = (lead * up) / down;
  for (const channel of CHANNELS) into[channel].set(made[channel].subarray(skip, skip + size));
  quieten(into, quiet);
}

/** What of a block must come out as it would sample by sample: digital silence, and two channels that are one. */
interface Quiet {
  /** Stretches of output in which nothing within reach of the filter sounds, as pairs of first and end. */
  readonly left: readonly (readonly [number, number])[];
  readonly right: readonly (readonly [number, number])[];
  readonly alike: boolean;
}

/** The transforms leave a trace of −300 dB of one moment in all others, and of one channel in the other. */
function quietOutputs(
  { reach, lead, up, down, block: size }: Conversion,
  input: Block,
): Omit<Quiet, 'alike'> {
  const outputs = (audio: Float64Array): (readonly [number, number])[] =>
    quietRuns(audio, 2 * reach).map(([start, end]) => [
      Math.max(0, Math.ceil(((start - 1 + reach - lead) * up) / down)),
      Math.min(size, Math.floor(((end - reach - lead) * up) / down) + 1),
    ]);
  return { left: outputs(input.left), right: outputs(input.right) };
}

function quieten(block: Block, quiet: Quiet): void {
  if (quiet.alike) block.right.set(block.left);
  for (const channel of CHANNELS)
    for (const [from, to] of quiet[channel]) if (from < to) block[channel].fill(0, from, to);
}

/** A source at another rate (docs/rules.md 5); itself where the rate is right already, so that its words stay untouched. */
export function atRate(source: PcmSource, rate: number): PcmSource {
  return source.rate === rate ? source : new ResampledSource(source, rate);
}

/** Whether a source delivers words that an integer of `bits` holds exactly. */
export function fitsInteger(source: PcmSource, bits: number): boolean {
  return isInteger(source.format) && Number(source.format.slice(3)) <= bits;
}
