/**
 * A random source without a state: the value depends only on the seed and the index. So a stretch of dither is the
 * same whether it is computed alone, in blocks, or as part of the whole disc.
 */
export interface Seed {
  readonly a: number;
  readonly b: number;
}

/** A 32-bit finaliser with full avalanche: every input bit flips every output bit with probability ½. */
function mix(value: number): number {
  let x = value | 0;
  x = Math.imul(x ^ (x >>> 16), 0x7feb352d);
  x = Math.imul(x ^ (x >>> 15), 0x846ca68b);
  return x ^ (x >>> 16);
}

/** A uniform value in [0, 1) with 32 bits; `index` from 0 to 2^53. */
export function uniform(seed: Seed, index: number): number {
  const low = index | 0;
  const high = (index / 0x1_0000_0000) | 0;
  return (mix(mix(low ^ seed.a) + (high ^ seed.b)) >>> 0) / 0x1_0000_0000;
}

/** A seed from any text: equal texts, equal seeds. */
export function seedFromText(text: string): Seed {
  let a = 0x811c9dc5 | 0;
  let b = 0x9e3779b9 | 0;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    a = Math.imul(a ^ code, 0x01000193);
    b = mix(b + code);
  }
  return { a: mix(a), b: mix(b ^ a) };
}
