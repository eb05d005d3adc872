import { positionOf, type PartSongs } from '@oiseau/album/model';

/** A place in words: “4”, of several parts “2-04”, “B1”. @param to place among the tracks of the part, from 0 */
export const placeWords = (part: PartSongs, to: number): string =>
  part.of > 1 ? positionOf(part, to + 1) : String(to + 1);
