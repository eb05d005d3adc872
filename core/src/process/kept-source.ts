import { CHANNELS, silence, type Block, type PcmSource } from '../pcm/block.js';

/** Samples that are kept at the least. */
const LEAST_KEPT = 1 << 15;

/**
 * A source that keeps what was read of it last, so that two who read it a little apart (one that looks ahead, one that writes) do not send
 * whatever lies before it back and forth.
 */
export class KeptSource implements PcmSource {
  #from = 0;
  #kept: Block = silence(0);

  constructor(readonly source: PcmSource) {}

  get rate(): number {
    return this.source.rate;
  }
  get length(): number {
    return this.source.length;
  }
  get format(): PcmSource['format'] {
    return this.source.format;
  }

  async read(start: number, count: number): Promise<Block> {
    const [from, kept] = [this.#from, this.#kept];
    const to = from + kept.left.length;
    const end = start + count;
    if (start >= from && end <= to) return cut(kept, start - from, end - from);
    if (start < from || start > to) {
      const fresh = await this.source.read(start, count);
      [this.#from, this.#kept] = [start, fresh];
      return cut(fresh, 0, count);
    }
    const fresh = await this.source.read(to, end - to);
    const most = Math.max(LEAST_KEPT, 2 * count);
    const begin = Math.max(from, end - most);
    const all = silence(end - begin);
    for (const channel of CHANNELS) {
      all[channel].set(kept[channel].subarray(Math.min(kept[channel].length, begin - from)));
      all[channel].set(fresh[channel].subarray(Math.max(0, begin - to)), Math.max(0, to - begin));
    }
    [this.#from, this.#kept] = [begin, all];
    if (start >= begin) return cut(all, start - begin, end - begin);
    // More was asked for than is kept: its beginning was kept before.
    const whole = silence(count);
    for (const channel of CHANNELS) {
      whole[channel].set(kept[channel].subarray(start - from));
      whole[channel].set(fresh[channel], to - start);
    }
    return whole;
  }
}

const cut = ({ left, right }: Block, from: number, to: number): Block => ({
  left: left.slice(from, to),
  right: right.slice(from, to),
});
