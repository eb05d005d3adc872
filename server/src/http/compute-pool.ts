import type { Album, DiscImage, Finding, MasterFactsByKey, CheckSubject, PcmInfo } from '@oiseau/core';
import type * as z from 'zod';

/** What is checked, but for what follows from it. */
export type Unchecked = Pick<CheckSubject, 'album' | 'details' | 'sounds' | 'lineUps' | 'sides'> & {
  readonly masters: MasterFactsByKey;
};

/** A body as its call reads it, or why that could not be. */
export type ReadBody =
  | { readonly body: unknown }
  | { readonly issues: readonly z.core.$ZodIssue[] }
  | { readonly unreadable: true };

/** A disc image that was opened, or the sentence that says why there is none. */
export type OpenedImage = { readonly image: DiscImage } | { readonly none: string };

/**
 * Work that would hold up everybody else who asks: it is done in another thread, while the server answers.
 */
export interface ComputePool {
  /** Reads a large body. @param call `PUT /albums/:id` */
  body(call: string, text: string): Promise<ReadBody>;
  /** Runs the rules over an album. */
  check(subject: Unchecked): Promise<readonly Finding[]>;
  /** An album for its column. @throws Error for one that could not be read again */
  document(album: Album): Promise<string>;
  openImage(folder: string): Promise<OpenedImage>;
  /** The outline of a file of PCM, as bytes: see `Silhouette`. */
  outline(path: string, info: PcmInfo): Promise<Uint8Array>;
}
