import { isInteger, wordBits, type Block, type PcmSource, type WordFormat } from './block.js';

/** Sources of one rate, one after the other as one. */
export class JoinedSource implements PcmSource {
  readonly rate: number;
  readonly length: number;
  readonly format: WordFormat;
  readonly #starts: readonly number[];

  /** @throws RangeError where their rates differ, or there are none */
  constructor(readonly sources: readonly PcmSource[]) {
    const [first] = sources;
    if (!first || sources.some(({ rate }) => rate !== first.rate))
      throw new RangeError('sources of several rates');
    this.rate = first.rate;
    this.format = widest(sources.map(({ format }) => format));
    let length = 0;
    this.#starts = sources.map((source) => {
      const start = length;
      length += source.length;
      return start;
    });
    this.length = length;
  }

  async read(start: number, count: number): Promise<Block> {
    const left = new Float64Array(count);
    const right = new Float64Array(count);
    for (const [i, source] of this.sources.entries()) {
      const own = this.#starts[i] ?? 0;
      const from = Math.max(start, own);
      const to = Math.min(start + count, own + source.length);
      if (from >= to) continue;
      const block = await source.read(from - own, to - from);
      left.set(block.left, from - start);
      right.set(block.right, from - start);
    }
    return { left, right };
  }
}

/** Words that hold the words of all of them. */
function widest(formats: readonly WordFormat[]): WordFormat {
  const most = (kind: readonly WordFormat[]): WordFormat | undefined =>
    [...kind].sort((a, b) => wordBits(b) - wordBits(a))[0];
  const floats = formats.filter((format) => !isInteger(format));
  const whole = most(formats.filter(isInteger));
  const float = most(floats);
  if (float === undefined) return whole ?? 'int16';
  return whole === 'int32' ? 'float64' : float;
}
