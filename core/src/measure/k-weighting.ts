/** A second-order section in direct form II transposed, with its state. */
export class Biquad {
  #z1 = 0;
  #z2 = 0;
  constructor(
    readonly b0: number,
    readonly b1: number,
    readonly b2: number,
    readonly a1: number,
    readonly a2: number,
  ) {}
  /** Filters in place. */
  process(audio: Float64Array): void {
    const { b0, b1, b2, a1, a2 } = this;
    let z1 = this.#z1;
    let z2 = this.#z2;
    for (let i = 0; i < audio.length; i++) {
      const x = audio[i] as number;
      const y = b0 * x + z1;
      z1 = b1 * x - a1 * y + z2;
      z2 = b2 * x - a2 * y;
      audio[i] = y;
    }
    this.#z1 = z1;
    this.#z2 = z2;
  }
}

/**
 * The K-weighting of ITU-R BS.1770-4 for any rate: the high shelf of the head and the high-pass. The standard
 * tabulates coefficients at 48 kHz; these are the analogue prototypes behind the table, mapped by the bilinear
 * transform to the file's own rate. At 48 kHz they give the table back.
 */
export function kWeighting(rate: number): [Biquad, Biquad] {
  const shelfTan = Math.tan((Math.PI * 1681.974450955533) / rate);
  const shelfQ = 0.7071752369554196;
  const high = 10 ** (3.999843853973347 / 20);
  const band = high ** 0.4996667741545416;
  const shelfA0 = 1 + shelfTan / shelfQ + shelfTan ** 2;
  const shelf = new Biquad(
    (high + (band * shelfTan) / shelfQ + shelfTan ** 2) / shelfA0,
    (2 * (shelfTan ** 2 - high)) / shelfA0,
    (high - (band * shelfTan) / shelfQ + shelfTan ** 2) / shelfA0,
    (2 * (shelfTan ** 2 - 1)) / shelfA0,
    (1 - shelfTan / shelfQ + shelfTan ** 2) / shelfA0,
  );
  const passTan = Math.tan((Math.PI * 38.13547087602444) / rate);
  const passQ = 0.5003270373238773;
  const passA0 = 1 + passTan / passQ + passTan ** 2;
  const highPass = new Biquad(
    1,
    -2,
    1,
    (2 * (passTan ** 2 - 1)) / passA0,
    (1 - passTan / passQ + passTan ** 2) / passA0,
  );
  return [shelf, highPass];
}
