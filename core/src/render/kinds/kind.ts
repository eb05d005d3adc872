import type { Album } from '../../album/album.js';
import type { Deliverable } from '../../album/deliverable.js';
import type { Part } from '../../album/part.js';
import type { z } from '../../schema/z.js';
import type { PlannedFile } from '../planned.js';

/** What a plan is made from. */
export interface PlanContext {
  readonly album: Album;
  /** The album laid out. */
  readonly parts: readonly Part[];
  /** By the key that regions name them by. */
  readonly masters: ReadonlyMap<string, { readonly rate: number }>;
  readonly revision: number;
}

/** A kind of deliverable: everything that the rest of the program asks of one. */
export interface Kind<D extends Deliverable> {
  /** What a person can set of it. */
  readonly settings: z.ZodType<D>;
  /** Every file that it will write; how those are written and proved is the matter of each kind of file (`files/`). */
  plan(deliverable: D, context: PlanContext): PlannedFile[];
  /** What it is, in a few words: “FLAC for each track”. */
  words(deliverable: D): string;
  /** How its audio is kept: “24 bit, 48 kHz”. */
  form(deliverable: D): string;
}

/** The folder of a part within a deliverable, with `/` behind it; empty where the album has only one. */
export const partFolder = ({ of, name }: Part): string => (of > 1 ? `${name}/` : '');
