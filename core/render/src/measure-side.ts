import {
  coefficientsOf,
  memoryOf,
  runSections,
  fitSection,
  highCut,
  lowCut,
  type AnalogueSection,
} from '@oiseau/audio/stages';
import type { SideFigures, SideMoment, SideQuestion } from '@oiseau/album/measured';
import type { Block } from '@oiseau/audio/pcm';
import { PART_RATE, sequenceOfSound } from './measure-sound.js';
import { Programme, type SourcesByKey } from './programme.js';

/** Samples read at a time. */
const BLOCK = 16_384;
const BASS_HZ = 150;
const TREBLE_HZ = 7000;
/** Bass or treble that is softer does not move a cutter, mean square: −30 and −60 dBFS. */
const LEAST_BASS = 1e-3;
const LEAST_TREBLE = 1e-6;
/** Nothing is told below, dB. */
const FLOOR_DB = -96;

const db = (power: number): number => Math.max(FLOOR_DB, Math.round(100 * Math.log10(power + 1e-30)) / 10);

/** Of two powers, within ±96 dB. */
const ratioDb = (power: number, to: number): number => Math.min(-FLOOR_DB, db(power / (to + 1e-30)));

/** What adds up over a second. */
interface Second {
  /** Squares of both channels, of the middle and of the side. */
  power: number;
  middle: number;
  side: number;
  /** Of the bass: squares of left and right, and their product. */
  left: number;
  right: number;
  product: number;
  treble: number;
}
const nothing = (): Second => ({ power: 0, middle: 0, side: 0, left: 0, right: 0, product: 0, treble: 0 });

/** Measures a side of a record as it goes by. */
export class SideMeter {
  readonly #seconds: Second[] = [];
  readonly #bass: Filter;
  readonly #treble: Filter;
  #position = 0;

  constructor(readonly rate: number) {
    this.#bass = new Filter(highCut(24), BASS_HZ, rate);
    this.#treble = new Filter(lowCut(24), TREBLE_HZ, rate);
  }

  /** @param block the next samples; left as it is */
  push(block: Block): void {
    const bass = this.#bass.of(block);
    const treble = this.#treble.of(block);
    for (let i = 0; i < block.left.length; i++) {
      const n = Math.floor((this.#position + i) / this.rate);
      const second = (this.#seconds[n] ??= nothing());
      const [l, r] = [block.left[i] as number, block.right[i] as number];
      const [bl, br] = [bass.left[i] as number, bass.right[i] as number];
      const [tl, tr] = [treble.left[i] as number, treble.right[i] as number];
      second.power += (l * l + r * r) / 2;
      second.middle += ((l + r) / 2) ** 2;
      second.side += ((l - r) / 2) ** 2;
      second.left += bl * bl;
      second.right += br * br;
      second.product += bl * br;
      second.treble += (tl * tl + tr * tr) / 2;
    }
    this.#position += block.left.length;
  }

  result(): SideFigures {
    const seconds = this.#seconds;
    const mean = (sum: number): number => sum / this.rate;
    const heavy = seconds.flatMap((each, at) =>
      mean((each.left + each.right) / 2) >= LEAST_BASS ? [{ at, ...each }] : [],
    );
    const correlations = heavy.map(({ at, left, right, product }) => ({
      at,
      // One channel alone is neither for nor against the other.
      value: left > 0 && right > 0 ? product / Math.sqrt(left * right) : 0,
    }));
    const widths = heavy.map(({ at, left, right, product }) => ({
      at,
      value: ratioDb(left + right - 2 * product, left + right + 2 * product),
    }));
    return {
      course: {
        levelDb: seconds.map(({ power }) => db(mean(power))),
        widthDb: seconds.map(({ middle, side }) => ratioDb(side, middle)),
      },
      bassCorrelation: first(correlations, (a, b) => a - b),
      bassWidthDb: first(widths, (a, b) => b - a),
      brighterDb: brighter(seconds.map(({ treble }) => mean(treble))),
    };
  }
}

/** A filter with its memory, of a copy of what goes through. */
class Filter {
  readonly #coefficients: Float64Array;
  readonly #memory: Float64Array;

  constructor(prototype: readonly AnalogueSection[], hz: number, rate: number) {
    this.#coefficients = coefficientsOf(prototype.flatMap((each) => fitSection(each, hz, rate).sections));
    this.#memory = memoryOf(this.#coefficients);
  }

  of({ left, right }: Block): Block {
    const copy = { left: left.slice(), right: right.slice() };
    runSections(copy, this.#coefficients, this.#memory);
    return copy;
  }
}

const first = (moments: readonly SideMoment[], order: (a: number, b: number) => number): SideMoment | null =>
  [...moments].sort((a, b) => order(a.value, b.value))[0] ?? null;

/** How the last third of a side compares with the rest in treble. */
function brighter(treble: readonly number[]): SideMoment | null {
  const from = Math.floor((2 * treble.length) / 3);
  const mean = (of: readonly number[]): number =>
    of.reduce((sum, each) => sum + each, 0) / Math.max(1, of.length);
  const [before, inside] = [mean(treble.slice(0, from)), mean(treble.slice(from))];
  if (from === 0 || inside < LEAST_TREBLE) return null;
  const brightest = first(
    treble.slice(from).map((value, i) => ({ at: from + i, value })),
    (a, b) => b - a,
  );
  return brightest && { at: brightest.at, value: ratioDb(inside, before) };
}

/** Measures a side as it is heard. @param masters every master that it plays @param progress gets the share that is done, and the seconds of audio */
export async function measureSide(
  question: SideQuestion,
  masters: SourcesByKey,
  progress?: (share: number, seconds: number) => Promise<void> | void,
): Promise<SideFigures> {
  const programme = new Programme(sequenceOfSound(question), masters, PART_RATE);
  const meter = new SideMeter(PART_RATE);
  const { end } = programme;
  for (let at = 0; at < end; at += BLOCK) {
    meter.push(await programme.read(at, Math.min(BLOCK, end - at)));
    await progress?.(at / end, at / PART_RATE);
  }
  return meter.result();
}
