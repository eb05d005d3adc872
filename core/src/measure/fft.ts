import { kernels, type Kernels } from '../kernels/kernels.js';

/** A fast Fourier transform of one fixed length, in place: decimation in time, two radix-2 stages at a time. */
export class Fft {
  static readonly #known = new Map<number, Fft>();

  /** One stage of radix 2, where their number is odd. */
  readonly #single: Twiddles | undefined;
  /** Pairs of stages, in order. */
  readonly #pairs: readonly { readonly first: Twiddles; readonly second: Twiddles }[];
  readonly #reversed: Uint32Array;

  /** The transform of a size, a power of two, 4 or more; there is one of each, since the kernels keep its tables. */
  static of(size: number): Fft {
    const fft = Fft.#known.get(size) ?? new Fft(size);
    Fft.#known.set(size, fft);
    return fft;
  }

  private constructor(readonly size: number) {
    if (size < 4 || (size & (size - 1)) !== 0) throw new RangeError(`${size} is no power of two from 4 on`);
    let half = 4;
    if (Math.log2(size) % 2 === 1) {
      this.#single = twiddles(half);
      half *= 2;
    }
    const pairs: { first: Twiddles; second: Twiddles }[] = [];
    for (; half < size; half *= 4) pairs.push({ first: twiddles(half), second: twiddles(2 * half) });
    this.#pairs = pairs;
    const bits = Math.log2(size);
    this.#reversed = new Uint32Array(size);
    for (let i = 0; i < size; i++)
      this.#reversed[i] = ((this.#reversed[i >> 1] as number) >> 1) | ((i & 1) << (bits - 1));
  }

  /** @param re real and `im` imaginary parts, `size` values each; both are overwritten */
  transform(re: Float64Array, im: Float64Array): void {
    if (!kernels) {
      this.transformReference(re, im);
      return;
    }
    kernels.begin();
    const at = kernels.place({ left: re, right: im });
    this.transformPlaced(kernels, at.left, at.right);
    re.set(kernels.doubles(at.left, re.length));
    im.set(kernels.doubles(at.right, im.length));
  }

  /** The same in the memory of the kernels. */
  transformPlaced(machine: Kernels, re: number, im: number): void {
    const { size } = this;
    const { call } = machine;
    call.fftBegin(re, im, size, machine.table(this.#reversed));
    const factors = ({ cos, sin }: Twiddles): [number, number] => [machine.table(cos), machine.table(sin)];
    const single = this.#single;
    if (single) call.fftStage(re, im, size, single.cos.length, ...factors(single));
    for (const { first, second } of this.#pairs)
      call.fftStages(re, im, size, first.cos.length, ...factors(first), ...factors(second));
  }

  /** The reference in plain TypeScript: the same sums in the same order as the kernels. */
  transformReference(re: Float64Array, im: Float64Array): void {
    const { size } = this;
    const reversed = this.#reversed;
    for (let i = 0; i < size; i++) {
      const j = reversed[i] as number;
      if (j <= i) continue;
      const a = re[i] as number;
      const b = im[i] as number;
      re[i] = re[j] as number;
      im[i] = im[j] as number;
      re[j] = a;
      im[j] = b;
    }
    firstTwoStages(re, im);
    if (this.#single) stage(re, im, this.#single);
    for (const { first, second } of this.#pairs) twoStages(re, im, first, second);
  }
}

/** Factors of one stage, in the order in which it reads them. */
interface Twiddles {
  readonly cos: Float64Array;
  readonly sin: Float64Array;
}

function twiddles(half: number): Twiddles {
  const angles = Float64Array.from({ length: half }, (_, k) => (-Math.PI * k) / half);
  return { cos: angles.map(Math.cos), sin: angles.map(Math.sin) };
}

/** Stages of 2 and 4 points: their factors are 1 and −i, which takes no multiplication. */
function firstTwoStages(re: Float64Array, im: Float64Array): void {
  for (let i = 0; i < re.length; i += 4) {
    const r0 = (re[i] as number) + (re[i + 1] as number);
    const i0 = (im[i] as number) + (im[i + 1] as number);
    const r1 = (re[i] as number) - (re[i + 1] as number);
    const i1 = (im[i] as number) - (im[i + 1] as number);
    const r2 = (re[i + 2] as number) + (re[i + 3] as number);
    const i2 = (im[i + 2] as number) + (im[i + 3] as number);
    const r3 = (re[i + 2] as number) - (re[i + 3] as number);
    const i3 = (im[i + 2] as number) - (im[i + 3] as number);
    re[i] = r0 + r2;
    im[i] = i0 + i2;
    re[i + 1] = r1 + i3;
    im[i + 1] = i1 - r3;
    re[i + 2] = r0 - r2;
    im[i + 2] = i0 - i2;
    re[i + 3] = r1 - i3;
    im[i + 3] = i1 + r3;
  }
}

function stage(re: Float64Array, im: Float64Array, { cos, sin }: Twiddles): void {
  const half = cos.length;
  for (let start = 0; start < re.length; start += 2 * half) {
    for (let k = 0; k < half; k++) {
      const a = start + k;
      const b = a + half;
      const c = cos[k] as number;
      const s = sin[k] as number;
      const tr = (re[b] as number) * c - (im[b] as number) * s;
      const ti = (re[b] as number) * s + (im[b] as number) * c;
      re[b] = (re[a] as number) - tr;
      im[b] = (im[a] as number) - ti;
      re[a] = (re[a] as number) + tr;
      im[a] = (im[a] as number) + ti;
    }
  }
}

/** Two stages in one walk over memory, which is what a transform of this size waits for. */
function twoStages(re: Float64Array, im: Float64Array, first: Twiddles, second: Twiddles): void {
  const half = first.cos.length;
  for (let start = 0; start < re.length; start += 4 * half) {
    for (let k = 0; k < half; k++) {
      const c1 = first.cos[k] as number;
      const s1 = first.sin[k] as number;
      const c2 = second.cos[k] as number;
      const s2 = second.sin[k] as number;
      const i0 = start + k;
      const i1 = i0 + half;
      const i2 = i1 + half;
      const i3 = i2 + half;
      const bRe = (re[i1] as number) * c1 - (im[i1] as number) * s1;
      const bIm = (re[i1] as number) * s1 + (im[i1] as number) * c1;
      const dRe = (re[i3] as number) * c1 - (im[i3] as number) * s1;
      const dIm = (re[i3] as number) * s1 + (im[i3] as number) * c1;
      const p0Re = (re[i0] as number) + bRe;
      const p0Im = (im[i0] as number) + bIm;
      const p1Re = (re[i0] as number) - bRe;
      const p1Im = (im[i0] as number) - bIm;
      const p2Re = (re[i2] as number) + dRe;
      const p2Im = (im[i2] as number) + dIm;
      const p3Re = (re[i2] as number) - dRe;
      const p3Im = (im[i2] as number) - dIm;
      const evenRe = p2Re * c2 - p2Im * s2;
      const evenIm = p2Re * s2 + p2Im * c2;
      // The factor a quarter turn on is −i times this one.
      const oddRe = p3Re * s2 + p3Im * c2;
      const oddIm = p3Im * s2 - p3Re * c2;
      re[i0] = p0Re + evenRe;
      im[i0] = p0Im + evenIm;
      re[i2] = p0Re - evenRe;
      im[i2] = p0Im - evenIm;
      re[i1] = p1Re + oddRe;
      im[i1] = p1Im + oddIm;
      re[i3] = p1Re - oddRe;
      im[i3] = p1Im - oddIm;
    }
  }
}
