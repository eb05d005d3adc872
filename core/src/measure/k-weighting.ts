/** Coefficients of a second-order section, a0 = 1. */
export interface Biquad {
  readonly b0: number;
  readonly b1: number;
  readonly b2: number;
  readonly a1: number;
  readonly a2: number;
}

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

/**
 * One channel's K-weighting with its state: the shelf, then the high-pass, both in direct form II transposed and both in one
 * loop, since only their power is wanted.
 */
export class KWeightedPower {
  readonly #shelf: Biquad;
  readonly #pass: Biquad;
  /** Delays of the shelf and of the high-pass. */
  readonly #state = new Float64Array(4);

  constructor(rate: number) {
    const { shelf, highPass } = kWeighting(rate);
    this.#shelf = shelf;
    this.#pass = highPass;
  }

  /** Sum of the squares of the weighted samples `[from, to)`; to be called in the order of the signal. */
  over(audio: Float64Array, from: number, to: number): number {
    const { b0, b1, b2, a1, a2 } = this.#shelf;
    const { a1: c1, a2: c2 } = this.#pass;
    let [s1 = 0, s2 = 0, p1 = 0, p2 = 0] = this.#state;
    let sum = 0;
    for (let i = from; i < to; i++) {
      const x = audio[i] as number;
      const y = b0 * x + s1;
      s1 = b1 * x - a1 * y + s2;
      s2 = b2 * x - a2 * y;
      // The high-pass has b = 1, −2, 1.
      const z = y + p1;
      p1 = p2 - 2 * y - c1 * z;
      p2 = y - c2 * z;
      sum += z * z;
    }
    this.#state.set([s1, s2, p1, p2]);
    return sum;
  }
}
