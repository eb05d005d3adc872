import { mergeEdits, type Merged } from '@oiseau/album/edits';
import { albumSchema, type Album } from '@oiseau/album/model';

/** A state on the server that another user saved. */
export interface NewerAlbum {
  readonly album: Album;
  readonly version: number;
  /** Who has made it of the version before; null: it is not known, nor how many versions lie between. */
  readonly who: string | null;
}

/** Two states of one album together; where that makes an album that breaks its rules, each as it stands. */
export function together(base: Album, mine: Album, theirs: Album): Merged<Album> {
  const merged = mergeEdits(base, mine, theirs);
  const isValid = (album: Album): boolean =>
    album === mine || album === theirs || albumSchema.safeParse(album).success;
  return isValid(merged.mine) && isValid(merged.theirs) ? merged : { mine, theirs };
}
