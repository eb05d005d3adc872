import type { Block } from '../pcm/block.js';

/** Taps to each side of the interpolated point. */
const HALF = 12;
const TAPS = 2 * HALF;
/** Samples that share one "can anything here be higher?" question. */
const STRIDE = 64;

/**
 * Streaming true-peak meter [ITU-R BS.1770-4 annex 2]: the signal is interpolated to at least 192 kHz (4× at 48 kHz)
 * with a windowed sinc and the highest magnitude kept. A stretch whose samples are too low to reach the
 * peak so far, however they add up, is passed over, which changes no result.
 */
export class TruePeakMeter {
  readonly #phases: Float64Array[] = [];
  /** The most that a full-scale signal can reach in any phase: the largest sum of a phase's magnitudes. */
  readonly #reach: number;
  readonly #channels = [new ChannelTail(), new ChannelTail()] as const;
  #peak = 0;

  constructor(rate: number) {
    const factor = Math.max(1, Math.ceil(192_000 / rate));
    for (let phase = 1; phase < factor; phase++) this.#phases.push(interpolator(phase / factor));
    this.#reach = Math.max(1, ...this.#phases.map((row) => row.reduce((sum, tap) => sum + Math.abs(tap), 0)));
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
      let most = 0;
      for (let i = from; i < from + positions + TAPS - 1; i++)
        most = Math.max(most, Math.abs(audio[i] as number));
      if (most * this.#reach <= this.#peak) continue;
      for (let i = from; i < from + positions; i++) {
        this.#peak = Math.max(this.#peak, Math.abs(audio[i + HALF] as number));
        for (const row of this.#phases) {
          let sum = 0;
          for (let t = 0; t < TAPS; t++) sum += (row[t] as number) * (audio[i + t] as number);
          this.#peak = Math.max(this.#peak, Math.abs(sum));
        }
      }
    }
  }
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
