import { kernels, type Kernels } from '../kernels/kernels.js';

/** The sizes of steps other than the first, which is of radix 4. */
type Radix = 2 | 3 | 4 | 5 | 7;

/** One step: groups of `radix` runs that are brought together, and turned. */
interface Step {
  readonly radix: Radix;
  /** Values that lie side by side and are treated alike. */
  readonly run: number;
  readonly groups: number;
  /** Of the first step cosines of all places by turn, then the sines; of the others cosine and sine of each turn but the first, group by group. */
  readonly factors: Float64Array;
}

/** Cosines of a radix, then its sines: exact mirrors of each other, so that halves of a butterfly may share their sums. */
function wavesOf(radix: Radix): Float64Array {
  const waves = new Float64Array(2 * radix);
  waves[0] = 1;
  for (let k = 1; 2 * k <= radix; k++) {
    const angle = (2 * Math.PI * k) / radix;
    waves[k] = waves[radix - k] = Math.cos(angle);
    waves[2 * radix - k] = -Math.sin(angle);
    waves[radix + k] = Math.sin(angle);
  }
  return waves;
}

const WAVES: Readonly<Record<Radix, Float64Array>> = {
  2: wavesOf(2),
  3: wavesOf(3),
  4: wavesOf(4),
  5: wavesOf(5),
  7: wavesOf(7),
};

/** Radices after the first 4, small ones first: what comes last is turned by nothing, and large butterflies turn most. */
function radicesOf(size: number): Radix[] {
  const radices: Radix[] = [];
  let rest = size / 4;
  for (const radix of [4, 2, 3, 5, 7] as const) for (; rest % radix === 0; rest /= radix) radices.push(radix);
  if (size % 8 !== 0 || rest !== 1)
    throw new RangeError(`${size} isn’t a multiple of 8 with the prime factors 2, 3, 5 and 7.`);
  return radices;
}

/** A complex value’s place in the memory of the kernels, or in two arrays. */
interface Complex<Part> {
  readonly re: Part;
  readonly im: Part;
}

/**
 * A discrete Fourier transform of one size: Σ x[n]·e^(−2πi·kn/size), by steps that sort as they go [Stockham]. Swapping real and imaginary
 * parts on both sides makes the inverse of it, times the size.
 */
export class Fft {
  static readonly #known = new Map<number, Fft>();
  readonly #steps: readonly Step[];

  /** The transform of a size, a multiple of 8 whose prime factors are 2, 3, 5 and 7; there is one of each, since the kernels keep its tables. */
  static of(size: number): Fft {
    const fft = Fft.#known.get(size) ?? new Fft(size);
    Fft.#known.set(size, fft);
    return fft;
  }

  private constructor(readonly size: number) {
    const steps: Step[] = [];
    let left = size;
    for (const radix of [4, ...radicesOf(size)] as const) {
      const groups = left / radix;
      const factors = new Float64Array(2 * (radix - 1) * groups);
      const step: Step = { radix, run: size / left, groups, factors };
      for (let p = 0; p < groups; p++)
        for (let k = 1; k < radix; k++) {
          const angle = (-2 * Math.PI * p * k) / left;
          const { cos, sin } = placesOf(step, p, k);
          factors[cos] = Math.cos(angle);
          factors[sin] = Math.sin(angle);
        }
      steps.push(step);
      left = groups;
    }
    this.#steps = steps;
  }

  /** @param re real and `im` imaginary parts, `size` values each; both are overwritten */
  transform(re: Float64Array, im: Float64Array): void {
    if (!kernels) {
      this.transformReference(re, im);
      return;
    }
    kernels.begin();
    const { left, right } = kernels.place({ left: re, right: im });
    const made = this.transformPlaced(kernels, { re: left, im: right });
    re.set(kernels.doubles(made.re, re.length));
    im.set(kernels.doubles(made.im, im.length));
  }

  /** The same in the memory of the kernels. @returns where the result lies; what went in is overwritten */
  transformPlaced(machine: Kernels, input: Complex<number>): Complex<number> {
    const { size } = this;
    let from = input;
    let to: Complex<number> = { re: machine.take(8 * size), im: machine.take(8 * size) };
    for (const { radix, run, groups, factors } of this.#steps) {
      const table = machine.table(factors);
      if (run === 1) machine.call.fftFirst(from.re, from.im, to.re, to.im, groups, table);
      else {
        const waves = machine.table(WAVES[radix]);
        machine.call.fftStep(radix, from.re, from.im, to.re, to.im, groups, run, table, waves);
      }
      [from, to] = [to, from];
    }
    return from;
  }

  /** The reference in plain TypeScript: the same sums in the same order as the kernels. */
  transformReference(re: Float64Array, im: Float64Array): void {
    let from: Complex<Float64Array> = { re: re.slice(), im: im.slice() };
    let to: Complex<Float64Array> = { re: re.slice(), im: im.slice() };
    for (const step of this.#steps) {
      for (let p = 0; p < step.groups; p++)
        for (let q = 0; q < step.run; q++) {
          const values = Array.from({ length: step.radix }, (_, j) => {
            const at = q + step.run * (p + step.groups * j);
            return { re: from.re[at] as number, im: from.im[at] as number };
          });
          butterfly(values).forEach((value, k) => {
            const at = q + step.run * (step.radix * p + k);
            const { re: r, im: i } = k === 0 ? value : turned(value, step, p, k);
            to.re[at] = r;
            to.im[at] = i;
          });
        }
      [from, to] = [to, from];
    }
    re.set(from.re);
    im.set(from.im);
  }
}

/** Where the cosine and the sine of a turn stand among the factors of a step. */
function placesOf({ radix, run, groups }: Step, group: number, turn: number): { cos: number; sin: number } {
  const turns = radix - 1;
  if (run === 1) return { cos: (turn - 1) * groups + group, sin: (turns + turn - 1) * groups + group };
  const cos = 2 * (turns * group + turn - 1);
  return { cos, sin: cos + 1 };
}

function turned(value: Complex<number>, step: Step, group: number, turn: number): Complex<number> {
  // The factors of the first group are all 1; the first step doesn’t look.
  if (group === 0 && step.run > 1) return value;
  const { cos, sin } = placesOf(step, group, turn);
  const [c, s] = [step.factors[cos] as number, step.factors[sin] as number];
  return { re: value.re * c - value.im * s, im: value.re * s + value.im * c };
}

/** The transform of a few values, by the sums and in the order of the kernels. */
function butterfly(x: readonly Complex<number>[]): Complex<number>[] {
  const at = (i: number): Complex<number> => x[i] as Complex<number>;
  const plus = (a: Complex<number>, b: Complex<number>): Complex<number> => ({
    re: a.re + b.re,
    im: a.im + b.im,
  });
  const minus = (a: Complex<number>, b: Complex<number>): Complex<number> => ({
    re: a.re - b.re,
    im: a.im - b.im,
  });
  /** a − i·b and a + i·b. */
  const quarter = (a: Complex<number>, b: Complex<number>): [Complex<number>, Complex<number>] => [
    { re: a.re + b.im, im: a.im - b.re },
    { re: a.re - b.im, im: a.im + b.re },
  ];
  const radix = x.length as Radix;
  if (radix === 2) return [plus(at(0), at(1)), minus(at(0), at(1))];
  if (radix === 4) {
    const [a, b] = [plus(at(0), at(2)), minus(at(0), at(2))];
    const [c, d] = [plus(at(1), at(3)), minus(at(1), at(3))];
    const [first, third] = quarter(b, d);
    return [plus(a, c), first, minus(a, c), third];
  }
  const waves = WAVES[radix];
  const pairs = (radix - 1) / 2;
  const sums = Array.from({ length: pairs }, (_, j) => plus(at(j + 1), at(radix - 1 - j)));
  const differences = Array.from({ length: pairs }, (_, j) => minus(at(j + 1), at(radix - 1 - j)));
  const weighed = (values: Complex<number>[], k: number, from: number): Complex<number> =>
    values
      .map(({ re, im }, j) => {
        const weight = waves[from + (((j + 1) * k) % radix)] as number;
        return { re: re * weight, im: im * weight };
      })
      .reduce(plus);
  const result = [sums.reduce(plus, at(0))];
  for (let k = 1; k <= pairs; k++)
    [result[k], result[radix - k]] = quarter(
      plus(at(0), weighed(sums, k, 0)),
      weighed(differences, k, radix),
    ) as [Complex<number>, Complex<number>];
  return result;
}
