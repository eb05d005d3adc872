import { formatMsf, frames, SECTOR_BYTES, type Frames } from '@oiseau/audio/time';
import type { Mark } from './marks.js';
import { qOf, RAW_SECTOR, readQ } from './subcode.js';

/** What a disc must say, in the words of its image. */
export interface WantedDisc {
  /** Every mark in the order in which they stand, the first pause at 0 among them. */
  readonly marks: readonly Mark[];
  readonly leadOut: Frames;
  /** 13 digits, or empty. */
  readonly upc: string;
  /** Of each track, from the first: its ISRC (or empty) and control nibble. */
  readonly tracks: readonly { readonly isrc: string; readonly control: number }[];
}

/** What was found of a written disc, laid against its image. */
export interface DiscReport {
  /** Sectors that were read. */
  readonly sectors: number;
  /** Sectors whose audio is another, and the first of them. */
  readonly audioDiffers: number;
  readonly firstDifference: Frames | null;
  /** Sectors whose subcode can't be read, or says something else. */
  readonly subcodeDiffers: number;
  /** Codes that never came, or came otherwise, in words. */
  readonly codes: readonly string[];
  readonly isSame: boolean;
}

/** Lays a disc that is read sector by sector against its image. Sectors come in order, from absolute 00:00:00 on. */
export class DiscComparison {
  #at = 0;
  #audioDiffers = 0;
  #first: Frames | null = null;
  #subcodeDiffers = 0;
  #place = 0;
  readonly #upcs = new Set<string>();
  readonly #isrcs = new Map<number, Set<string>>();

  constructor(readonly wanted: WantedDisc) {}

  /**
   * @param raw sectors as a drive gives them, audio and subcode
   * @param audio the same stretch of the image
   */
  push(raw: Uint8Array, audio: Uint8Array): void {
    for (let i = 0; (i + 1) * RAW_SECTOR <= raw.length; i++) {
      const sector = raw.subarray(i * RAW_SECTOR, (i + 1) * RAW_SECTOR);
      this.#audio(sector, audio.subarray(i * SECTOR_BYTES, (i + 1) * SECTOR_BYTES));
      this.#subcode(sector.subarray(SECTOR_BYTES));
      this.#at++;
    }
  }

  #audio(found: Uint8Array, wanted: Uint8Array): void {
    let same = wanted.length === SECTOR_BYTES;
    for (let i = 0; same && i < SECTOR_BYTES; i++) same = found[i] === wanted[i];
    if (same) return;
    this.#audioDiffers++;
    this.#first ??= frames(this.#at);
  }

  #subcode(subcode: Uint8Array): void {
    const { marks, tracks } = this.wanted;
    while ((marks[this.#place + 1]?.frames ?? Infinity) <= this.#at) this.#place++;
    const mark = marks[this.#place];
    const found = readQ(qOf(subcode));
    if (!found || !mark) this.#subcodeDiffers++;
    else if (found.kind === 'catalog') this.#upcs.add(found.upc);
    else if (found.kind === 'isrc') {
      const known = this.#isrcs.get(mark.track) ?? new Set();
      this.#isrcs.set(mark.track, known.add(found.isrc));
    } else {
      const start = marks.find(({ track, index }) => track === mark.track && index === 1)?.frames ?? 0;
      const same =
        found.track === mark.track &&
        found.index === mark.index &&
        found.at === this.#at &&
        found.within === Math.abs(this.#at - start) &&
        found.control === (tracks[mark.track - 1]?.control ?? 0);
      if (!same) this.#subcodeDiffers++;
    }
  }

  report(): DiscReport {
    const { upc, tracks, leadOut, marks } = this.wanted;
    const codes: string[] = [];
    const found = (all: ReadonlySet<string> | undefined): string => [...(all ?? [])].join(', ');
    if (found(this.#upcs) !== upc) codes.push(`UPC/EAN “${found(this.#upcs)}” instead of “${upc}”`);
    tracks.forEach(({ isrc }, i) => {
      const start = marks.find(({ track, index }) => track === i + 1 && index === 1)?.frames ?? 0;
      const end = marks.find(({ frames: at, track }) => at > start && track > i + 1)?.frames ?? leadOut;
      // A code comes once in each hundred sectors: a shorter track may be without.
      const all = this.#isrcs.get(i + 1);
      if (found(all) !== isrc && !(end - start < 200 && !all))
        codes.push(`track ${i + 1}: ISRC “${found(all)}” instead of “${isrc}”`);
    });
    if (this.#at !== leadOut) codes.push(`${formatMsf(frames(this.#at))} instead of ${formatMsf(leadOut)}`);
    const isSame = this.#audioDiffers === 0 && this.#subcodeDiffers === 0 && codes.length === 0;
    return {
      ...{ sectors: this.#at, audioDiffers: this.#audioDiffers, firstDifference: this.#first },
      ...{ subcodeDiffers: this.#subcodeDiffers, codes, isSame },
    };
  }
}
