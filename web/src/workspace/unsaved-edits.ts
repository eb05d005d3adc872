import type { Album } from '@oiseau/album/model';

/** What a window has of an album that the server has not confirmed yet. */
export interface UnsavedEdits {
  /** The version that the edits were made over. */
  readonly version: number;
  readonly album: Album;
  /** States sent over that version and not acknowledged: the server may have one of them. */
  readonly sent: readonly Album[];
}

/** Edits that a window has left behind. */
export interface LeftBehind extends UnsavedEdits {
  /** When the last of them was made. */
  readonly at: Date;
  forget(): void;
}

/** Where a window keeps its unsaved edits of one album. */
export interface UnsavedKeeper {
  /** Keeps them at once, in the place of what it has kept before. */
  put(edits: UnsavedEdits): void;
  clear(): void;
}
