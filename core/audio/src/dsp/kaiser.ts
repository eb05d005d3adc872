/** Stop-band attenuation designed for: 140 dB are promised (docs/rules.md 5), the rest is margin for the double's own noise. */
const ATTENUATION_DB = 150;
const BETA = 0.1102 * (ATTENUATION_DB - 8.7);

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

const WHOLE = besselI0(BETA);

/** A low-pass as a Kaiser-windowed sinc: A dB need (A − 7.95)/(2.285·Δω) taps and β = 0.1102(A − 8.7) [Kaiser 1974]. */
export interface LowPass {
  /** Samples from the middle to where the filter ends. */
  readonly half: number;
  /** Its value at a distance from the middle, in samples and fractions of them. */
  at(distance: number): number;
}

/** @param rate in Hz of the samples that it weighs, like its edges */
export function lowPass(passHz: number, stopHz: number, rate: number): LowPass {
  const transition = (2 * Math.PI * (stopHz - passHz)) / rate;
  const half = Math.ceil((ATTENUATION_DB - 7.95) / (2.285 * transition) / 2) + 1;
  // Cut-off in cycles per sample, doubled: the sinc's argument and its gain at once.
  const cutoff = (passHz + stopHz) / rate;
  return {
    half,
    at(distance) {
      const inside = 1 - (distance / half) ** 2;
      if (inside <= 0) return 0;
      const angle = Math.PI * cutoff * distance;
      const sinc = angle === 0 ? 1 : Math.sin(angle) / angle;
      return (cutoff * sinc * besselI0(BETA * Math.sqrt(inside))) / WHOLE;
    },
  };
}
