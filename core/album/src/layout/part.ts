import { markDisc, type DiscMarks } from './disc-marks.js';
import type { Album } from '../model/album.js';
import { albumOfDeliverable } from '../model/album-of-edition.js';
import type { Deliverable } from '../model/deliverable.js';
import { partsOf, type AlbumOfParts, type PartSongs } from '../model/parts.js';
import { place, type Placement } from './placement.js';
import { sequenceOf, type MasterFactsByKey, type Sequence } from '../model/sequence.js';

/** A part of an album with everything that follows from its songs: what it plays, where, and, where it is a disc, its marks. */
export interface Part extends PartSongs {
  readonly sequence: Sequence;
  readonly placement: Placement;
  /** null: a side has none. */
  readonly disc: DiscMarks | null;
}

/** A part that is a disc. */
export type DiscPart = Part & { readonly disc: DiscMarks };

export const isDisc = (part: Part): part is DiscPart => part.disc !== null;

/**
 * Every part of an album, laid out: at least one.
 * @throws RangeError when a master is not among `masters`
 */
export function layOutAlbum(
  album: AlbumOfParts & Pick<Sequence, 'markLead' | 'endPause' | 'sound'>,
  masters: MasterFactsByKey,
): [Part, ...Part[]] {
  const parts = partsOf(album).map((part): Part => {
    const sequence = sequenceOf(part, album, masters);
    const placement = place(sequence);
    return {
      ...part,
      sequence,
      placement,
      disc: part.kind === 'disc' ? markDisc(sequence, placement) : null,
    };
  });
  return parts as [Part, ...Part[]];
}

/**
 * What a deliverable is made of, laid out: the album of its edition, or the album itself where it has none.
 * @throws EditionMissing where its edition is gone; RangeError when a master is not among `masters`
 */
export function layOutDeliverable(
  album: Album,
  deliverable: Deliverable,
  masters: MasterFactsByKey,
): { readonly album: Album; readonly edition: string; readonly parts: readonly Part[] } {
  const own = albumOfDeliverable(album, deliverable);
  return { ...own, parts: layOutAlbum(own.album, masters) };
}

/** One part of an album laid out, by its number, from 1; where it has fewer, the last. @throws RangeError when a master is not known */
export function layOutPart(
  album: Parameters<typeof layOutAlbum>[0],
  masters: MasterFactsByKey,
  number: number,
): Part {
  const parts = layOutAlbum(album, masters);
  return parts[Math.min(number, parts.length) - 1] ?? parts[0];
}
