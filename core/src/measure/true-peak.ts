import type { Block } from '../pcm/block.js';

/** Taps to each side of the interpolated point. */
const HALF = 12;
const TAPS = 2 * HALF;
/** Samples that share one "can anything here be higher?" question. */
const STRIDE = 64;

/** Interpolate to this rate at least: 4× at 44.1 and 48 kHz, 2× at 88.2 and 96 kHz. */
const TARGET_RATE = 176_400;

/**
 * Streaming true-peak meter [ITU-R BS.1770-4 annex 2]: the signal is interpolated four times (at 48 kHz) with a windowed sinc
 * and the highest magnitude kept. A stretch whose samples are too low to reach the peak so far, however they add
 * up, is passed over, which changes no result.
 */
export class TruePeakMeter {
  /** Points between two samples. */
  readonly #phases: number;
  /** TAPS weights for each of those points. */
  readonly #table: Float64Array;
  /** The most that a full-scale signal can reach at any point: the largest sum of a point's magnitudes. */
  readonly #reach: number;
  readonly #channels = [new ChannelTail(), new ChannelTail()] as const;
  #peak = 0;

  constructor(rate: number) {
    const factor = Math.max(1, Math.ceil(TARGET_RATE / rate));
    this.#phases = factor - 1;
    this.#table = new Float64Array(this.#phases * TAPS);
    let reach = 1;
    for (let phase = 0; phase < this.#phases; phase++) {
      const row = interpolator((phase + 1) / factor);
      this.#table.set(row, phase * TAPS);
      reach = Math.max(
        reach,
        row.reduce((sum, tap) => sum + Math.abs(tap), 0),
      );
    }
    this.#reach = reach;
  }

  push(block: Block): void {
    this.#scan(this.#channels[0].extend(block.left));
    this.#scan(this.#channels[1].extend(block.right));
  }

  /** Linear true peak of all that was pushed, the decay of the filter after the end included. */
  result(): number {
    this.push({ left: new Float64Array(TAPS), right: new Float64Array(TAPS) });
    return this.#peak;
  }

  #scan(audio: Float64Array): void {
    for (let from = 0; from + TAPS <= audio.length; from += STRIDE) {
      const positions = Math.min(STRIDE, audio.length - TAPS + 1 - from);
      const most = highest(audio, from, from + positions + TAPS - 1);
      if (most * this.#reach <= this.#peak) continue;
      this.#peak = Math.max(this.#peak, highest(audio, from + HALF, from + HALF + positions));
      if (this.#phases > 0)
        this.#peak = Math.max(this.#peak, interpolatedPeak(audio, from, positions, this.#table));
    }
  }
}

function highest(audio: Float64Array, from: number, to: number): number {
  let most = 0;
  for (let i = from; i < to; i++) {
    const magnitude = Math.abs(audio[i] as number);
    if (magnitude > most) most = magnitude;
  }
  return most;
}

/** Highest magnitude between the samples of a stretch: the hot loop, its even and odd taps summed apart. */
function interpolatedPeak(audio: Float64Array, from: number, positions: number, table: Float64Array): number {
  let peak = 0;
  for (let row = 0; row < table.length; row += TAPS) {
    for (let i = from; i < from + positions; i++) {
      let even = 0;
      let odd = 0;
      for (let t = 0; t < TAPS; t += 2) {
        even += (table[row + t] as number) * (audio[i + t] as number);
        odd += (table[row + t + 1] as number) * (audio[i + t + 1] as number);
      }
      const magnitude = Math.abs(even + odd);
      if (magnitude > peak) peak = magnitude;
    }
  }
  return peak;
}

/** Joins each block to the end of the one before, so that every point sees its whole neighbourhood once. */
class ChannelTail {
  #tail = new Float64Array(TAPS - 1);
  extend(audio: Float64Array): Float64Array {
    const all = new Float64Array(this.#tail.length + audio.length);
    all.set(this.#tail);
    all.set(audio, this.#tail.length);
    this.#tail = all.slice(all.length - (TAPS - 1));
    return all;
  }
}

/** Taps that give the value `fraction` of a sample after tap HALF − 1, Kaiser window, unity at DC. */
function interpolator(fraction: number): Float64Array {
  const row = new Float64Array(TAPS);
  let sum = 0;
  for (let t = 0; t < TAPS; t++) {
    const distance = HALF - 1 + fraction - t;
    const sinc = Math.sin(Math.PI * distance) / (Math.PI * distance);
    const window = Math.cos((Math.PI * distance) / (2 * (HALF + 1))) ** 2;
    row[t] = sinc * window;
    sum += row[t] as number;
  }
  return row.map((tap) => tap / sum);
}
