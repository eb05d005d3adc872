import type { Biquad } from '../dsp/biquad.js';
import type { Kernels, Placed } from '../kernels/kernels.js';
import type { Block } from '../pcm/block.js';

/**
 * The K-weighting of ITU-R BS.1770-4 for any rate: the high shelf of the head and the high-pass. The standard
 * tabulates coefficients at 48 kHz; these are the analogue prototypes behind the table, mapped by the bilinear
 * transform to the file's own rate. At 48 kHz they give the table back.
 */
export function kWeighting(rate: number): { readonly shelf: Biquad; readonly highPass: Biquad } {
  const shelfTan = Math.tan((Math.PI * 1681.974450955533) / rate);
  const shelfQ = 0.7071752369554196;
  const high = 10 ** (3.999843853973347 / 20);
  const band = high ** 0.4996667741545416;
  const shelfA0 = 1 + shelfTan / shelfQ + shelfTan ** 2;
  const shelf = {
    b0: (high + (band * shelfTan) / shelfQ + shelfTan ** 2) / shelfA0,
    b1: (2 * (shelfTan ** 2 - high)) / shelfA0,
    b2: (high - (band * shelfTan) / shelfQ + shelfTan ** 2) / shelfA0,
    a1: (2 * (shelfTan ** 2 - 1)) / shelfA0,
    a2: (1 - shelfTan / shelfQ + shelfTan ** 2) / shelfA0,
  };
  const passTan = Math.tan((Math.PI * 38.13547087602444) / rate);
  const passQ = 0.5003270373238773;
  const passA0 = 1 + passTan / passQ + passTan ** 2;
  const highPass = {
    b0: 1,
    b1: -2,
    b2: 1,
    a1: (2 * (passTan ** 2 - 1)) / passA0,
    a2: (1 - passTan / passQ + passTan ** 2) / passA0,
  };
  return { shelf, highPass };
}

/** Numbers that the filters remember. */
const STATE = 8;

/**
 * The K-weighting of both channels with its state: the shelf, then the high-pass, both in direct form II transposed and both in one
 * loop, since only their power is wanted.
 */
export class KWeightedPower {
  readonly #shelf: Biquad;
  readonly #pass: Biquad;
  /** Two delays of the shelf, and two of the high-pass; left and right of each side by side. */
  readonly #state = new Float64Array(STATE);

  constructor(rate: number) {
    const { shelf, highPass } = kWeighting(rate);
    this.#shelf = shelf;
    this.#pass = highPass;
  }

  /** Sum of the squares of the weighted samples `[from, to)` of both channels; to be called in the order of the signal. */
  over({ left, right }: Block, from: number, to: number): number {
    return this.#channel(left, 0, from, to) + this.#channel(right, 1, from, to);
  }

  /**
   * The same in the memory of the kernels, and the same bits, for runs that follow each other from the first sample on.
   * @param ends the place behind each run
   * @returns a sum for each run
   */
  overPlaced(machine: Kernels, { left, right }: Placed, ends: readonly number[]): Float64Array {
    const { b0, b1, b2, a1, a2 } = this.#shelf;
    const { a1: c1, a2: c2 } = this.#pass;
    const runs = ends.length;
    const at = machine.take(8 * STATE);
    const endsAt = machine.take(4 * runs);
    const powers = machine.take(8 * runs);
    machine.integers(endsAt, runs).set(ends);
    machine.doubles(at, STATE).set(this.#state);
    machine.call.weigh(left, right, endsAt, runs, b0, b1, b2, a1, a2, c1, c2, at, powers);
    this.#state.set(machine.doubles(at, STATE));
    return machine.doubles(powers, runs);
  }

  #channel(audio: Float64Array, channel: 0 | 1, from: number, to: number): number {
    const { b0, b1, b2, a1, a2 } = this.#shelf;
    const { a1: c1, a2: c2 } = this.#pass;
    const state = this.#state;
    let s1 = state[channel] as number;
    let s2 = state[2 + channel] as number;
    let p1 = state[4 + channel] as number;
    let p2 = state[6 + channel] as number;
    let sum = 0;
    for (let i = from; i < to; i++) {
      const x = audio[i] as number;
      const y = b0 * x + s1;
      // Written so that as little as possible waits for `y`.
      s1 = b1 * x + s2 - a1 * y;
      s2 = b2 * x - a2 * y;
      // The high-pass has b = 1, −2, 1.
      const z = y + p1;
      p1 = p2 - 2 * y - c1 * z;
      p2 = y - c2 * z;
      sum += z * z;
    }
    state[channel] = s1;
    state[2 + channel] = s2;
    state[4 + channel] = p1;
    state[6 + channel] = p2;
    return sum;
  }
}
