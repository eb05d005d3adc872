import { kernels } from '../kernels/kernels.js';
import { isInteger, type Block, type PcmSource } from '../pcm/block.js';
import { halveNeeds, halvePlaced, halveReference, type HalfBand } from './halve.js';
import { lowPass } from './kaiser.js';
import { resamplePlaced, resampleReference, type Rows, type Walk } from './polyphase.js';
import { joined, SlidingInput } from './sliding-input.js';

/** Edges of a low-pass, in Hz. */
interface Edges {
  readonly passHz: number;
  readonly stopHz: number;
}

/**
 * A polyphase low-pass for one pair of rates: `up` is the output rate / gcd, `down` the input rate / gcd. Row p of the table serves output
 * positions whose fraction of an input sample is p/up; rows are filled with zeros to a multiple of 8 taps.
 */
interface Polyphase extends Rows {
  /** Half of the taps that are not just filling. */
  readonly half: number;
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

function designPolyphase(inputRate: number, outputRate: number, { passHz, stopHz }: Edges): Polyphase {
  const divisor = gcd(inputRate, outputRate);
  const up = outputRate / divisor;
  const down = inputRate / divisor;
  const { half, at } = lowPass(passHz, stopHz, inputRate);
  const taps = Math.ceil((2 * half) / 8) * 8;
  const table = new Float64Array(up * taps);
  // Row p, tap t weighs the input sample at floor(position) − half + 1 + t.
  for (let phase = 0; phase < up; phase++)
    for (let tap = 0; tap < 2 * half; tap++) table[phase * taps + tap] = at(phase / up + half - 1 - tap);
  return { up, down, taps, half, table };
}

/** Filters are made once for each pair of rates: the kernels keep their tables. */
const polyphases = new Map<string, Polyphase>();

function polyphaseFor(inputRate: number, outputRate: number, edges: Edges): Polyphase {
  const key = [inputRate, outputRate, edges.passHz, edges.stopHz].join(' ');
  const filter = polyphases.get(key) ?? designPolyphase(inputRate, outputRate, edges);
  polyphases.set(key, filter);
  return filter;
}

/** `round(frames · out/in)` of docs/rules.md 5. */
export function resampledLength(length: number, inputRate: number, outputRate: number): number {
  return Math.round((length * outputRate) / inputRate);
}

/** Twice the CD’s rate: a low-pass between 20 and 24.1 kHz is a half-band there, whose edges lie evenly around a quarter of the rate. */
const TWICE = 88_200;

let designed: HalfBand | undefined;

function cdHalfBand(): HalfBand {
  if (designed) return designed;
  const { passHz, stopHz } = filterEdges(TWICE, TWICE / 2);
  const { half, at } = lowPass(passHz, stopHz, TWICE);
  const odd = Float64Array.from({ length: 2 * Math.ceil(half / 4) }, (_, k) => at(2 * k + 1));
  return (designed = { centre: at(0), odd });
}

/** What leads from one rate to another: a polyphase filter, a half-band, or one after the other. */
interface Chain {
  readonly rows: Polyphase | null;
  readonly halfBand: HalfBand | null;
}

/**
 * The narrow filter down to 44.1 kHz is the costly one. It works at 88.2 kHz, as a half-band, half of whose taps are zero and the others
 * come in pairs; a higher rate comes down to there through a short filter that only keeps clear of what would fold below 24.1 kHz.
 */
function chainFor(inputRate: number, outputRate: number): Chain {
  const edges = filterEdges(inputRate, outputRate);
  if (outputRate !== TWICE / 2 || inputRate < TWICE)
    return { rows: polyphaseFor(inputRate, outputRate, edges), halfBand: null };
  const wide = { passHz: edges.passHz, stopHz: TWICE - edges.stopHz };
  return {
    rows: inputRate === TWICE ? null : polyphaseFor(inputRate, TWICE, wide),
    halfBand: cdHalfBand(),
  };
}

/**
 * A source at another rate: linear phase, delay compensated, double precision. Each output sample is computed
 * from the input alone, so any way of cutting the reads into blocks gives the same bits. Input beyond the ends
 * of the source counts as silence.
 */
class ResampledSource implements PcmSource {
  readonly length: number;
  /** Resampled words are no longer the source's: they need a double. */
  readonly format = 'float64' as const;
  readonly #chain: Chain;
  readonly #input: SlidingInput;

  constructor(
    source: PcmSource,
    readonly rate: number,
  ) {
    this.#chain = chainFor(source.rate, rate);
    // What two outputs need is more than the stretches of neighbouring reads share.
    this.#input = new SlidingInput(source, this.#need(0, 2).count);
    this.length = resampledLength(source.length, source.rate, rate);
  }

  async read(start: number, count: number): Promise<Block> {
    const { rows, halfBand } = this.#chain;
    const need = this.#need(start, count);
    const input = await this.#input.read(need.first, need.count);
    if (!kernels) {
      const whole = joined(...input);
      const wide = rows ? resampleReference(rows, need.walk, whole) : whole;
      return halfBand ? halveReference(halfBand, count, wide) : wide;
    }
    kernels.begin();
    const placed = kernels.place(...input);
    const wide = rows ? resamplePlaced(kernels, rows, need.walk, placed) : placed;
    return kernels.copy(halfBand ? halvePlaced(kernels, halfBand, count, wide) : wide);
  }

  /** What some outputs need, backwards: the half-band of its input, and the polyphase filter for that of the source. */
  #need(start: number, outputs: number): { first: number; count: number; walk: Walk } {
    const { rows, halfBand } = this.#chain;
    const [first, count] = halfBand
      ? [2 * (start - halfBand.odd.length), halveNeeds(halfBand, outputs)]
      : [start, outputs];
    if (!rows) return { first, count, walk: { phase: 0, count } };
    const { up, down, taps, half } = rows;
    const under = Math.floor((first * down) / up);
    const phase = first * down - under * up;
    return {
      first: under - half + 1,
      count: Math.floor((phase + (count - 1) * down) / up) + taps,
      walk: { phase, count },
    };
  }
}

/** A source at another rate (docs/rules.md 5); itself where the rate is right already, so that its words stay untouched. */
export function atRate(source: PcmSource, rate: number): PcmSource {
  return source.rate === rate ? source : new ResampledSource(source, rate);
}

/** Whether a source delivers words that an integer of `bits` holds exactly. */
export function fitsInteger(source: PcmSource, bits: number): boolean {
  return isInteger(source.format) && Number(source.format.slice(3)) <= bits;
}
