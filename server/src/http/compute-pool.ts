import type { DiscImage, Paper } from '@oiseau/formats/disc';
import type { Finding, CheckSubject } from '@oiseau/checks';
import type { AlbumPatch } from '@oiseau/album/edits';
import type { MasterFactsByKey } from '@oiseau/album/model';
import type { PcmInfo } from '@oiseau/audio/pcm';
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

/** An album that is to be saved. */
export interface PreparedDocument {
  /** For its column. */
  readonly text: string;
  readonly artwork: string | null;
  /** SHA-256 of the masters that it plays. */
  readonly masters: readonly string[];
}

/** The same over a version. */
export interface PreparedAlbum extends PreparedDocument {
  readonly version: number;
}

/** An album after a change, or why it can't be changed so. */
export type PatchedAlbum =
  | { readonly prepared: PreparedDocument }
  | { readonly misfit: string }
  | { readonly issues: readonly z.core.$ZodIssue[] };

/** What a question about a sound is kept by. */
export interface PreparedQuestion {
  readonly key: string;
  /** SHA-256 of the masters that are heard to answer it. */
  readonly masters: readonly string[];
  /** For its column. */
  readonly text: string;
}

/** An album file that is to become an album. */
export interface PreparedFile {
  readonly text: string;
  /** SHA-256 of masters by their name in the file, as the caller gave them. */
  readonly masters: Readonly<Record<string, string>>;
  /** The masters that the file names. */
  readonly names: readonly string[];
  /** Their SHA-256, as far as the file says so. */
  readonly sums: ReadonlyMap<string, string>;
  /** Why it can't be used: a sentence for each fault. */
  readonly problems: readonly string[];
}

/** A disc image that was opened, or the sentence that says why there is none. */
export type OpenedImage = { readonly image: DiscImage } | { readonly none: string };

/** What lists show of an album without reading its document. */
export interface Listing {
  readonly title: string;
  readonly performer: string;
  readonly artwork: string | null;
  readonly tracks: number;
  /** Length in CD frames: lead-outs of discs and lengths of sides; 0 where it can't be computed. */
  readonly frames: number;
  /** The document can't be read. */
  readonly damaged: boolean;
  /** Valid codes, as stored. */
  readonly isrcs: readonly string[];
  /** Masters that it plays whose facts were not among those given. */
  readonly unknownMasters: readonly string[];
}

/**
 * Work that would block other requests: it is done in another thread, while the server answers.
 */
export interface ComputePool {
  /** Reads a body and computes what its call needs of it. @param call `PUT /albums/:id` */
  body(call: string, text: string): Promise<ReadBody>;
  /** Runs the rules over an album. */
  check(subject: Unchecked): Promise<readonly Finding[]>;
  /** The document of an album file. @param masters SHA-256 by name in the file */
  albumDocument(file: string, masters: ReadonlyMap<string, string>): Promise<string>;
  /** A stored document after a change. @param patch JSON Patch, read by `albumPatchSchema` */
  patchedAlbum(document: string, patch: AlbumPatch): Promise<PatchedAlbum>;
  /** A stored document as JSON of the album in today's form, or why it can't be read. */
  albumJson(
    document: string,
    drafts: boolean,
  ): Promise<{ readonly json: string } | { readonly damaged: string }>;
  /** What lists show of albums, by their stored documents, in the same order. Never fails because of a document. */
  listings(documents: readonly string[], masters: MasterFactsByKey): Promise<readonly Listing[]>;
  openImage(folder: string): Promise<OpenedImage>;
  /** A sheet as a PDF. */
  paper(paper: Paper): Promise<Uint8Array>;
  /** The outline of a file of PCM, as bytes: see `Silhouette`. */
  outline(path: string, info: PcmInfo): Promise<Uint8Array>;
}
