import type { Block, PcmSource } from '../pcm/block.js';

/** A source read from some samples further on, or, where `by` is negative, back: silence where it has nothing. */
export class ShiftedSource implements PcmSource {
  readonly rate: number;
  readonly format: PcmSource['format'];
  readonly length: number;

  /** @param by whole samples at the source’s rate */
  constructor(
    private readonly source: PcmSource,
    private readonly by: number,
  ) {
    this.rate = source.rate;
    this.format = source.format;
    this.length = Math.max(0, source.length - by);
  }

  read(start: number, count: number, into?: Block): Promise<Block> {
    return this.source.read(start + this.by, count, into);
  }

  get fetch(): PcmSource['fetch'] {
    const fetch = this.source.fetch?.bind(this.source);
    return fetch && ((start, count) => fetch(start + this.by, count));
  }
}
