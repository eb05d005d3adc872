import { DEFAULT_GAP, newTrack, type Album, type Track } from '../album/album.js';
import type { Silhouette } from '../measure/silhouette.js';
import { samples, samplesToTicks, ticks, type Ticks } from '../time/ticks.js';
import { pieceEnd, type Cutting } from './cutting.js';
import { suggestTrim, type Region, type TrimSettings } from './trim.js';

/** What becomes of the stretches between the sounds. */
export type PieceJoin =
  /** The tracks run into each other, sample for sample, as the recording does. */
  | { readonly kind: 'continuous' }
  /** Each is trimmed to its sound, with a gap before it. */
  | { readonly kind: 'trimmed'; readonly gap: Ticks; readonly trim: TrimSettings };

export interface CutMaster {
  readonly sha256: string;
  readonly rate: number;
  readonly outline: Silhouette;
}

/** The region of each piece that is kept, with its name and the gap before it. */
export function cutRegions(
  cutting: Cutting,
  { rate, outline }: Pick<CutMaster, 'rate' | 'outline'>,
  join: PieceJoin,
): (Region & { readonly name: string; readonly gapBefore: Ticks })[] {
  const at = (sample: number): Ticks => samplesToTicks(samples(sample), rate);
  return cutting.pieces
    .map((piece, i) => ({ ...piece, region: { in: at(piece.start), out: at(pieceEnd(cutting, i)) } }))
    .filter(({ keep }) => keep)
    .map(({ name, region }, place) => {
      const trimmed = join.kind === 'trimmed' ? suggestTrim(outline, region, join.trim) : null;
      const gap = join.kind === 'trimmed' ? join.gap : ticks(0);
      return {
        ...(trimmed ?? region),
        name: name.trim() || `Part ${place + 1}`,
        gapBefore: place === 0 ? DEFAULT_GAP : gap,
      };
    });
}

/**
 * The album with a track for each kept piece. They take the place of the first track that plays this master (and of all others
 * that do), or stand at the end.
 */
export function applyCutting(
  album: Album,
  cutting: Cutting,
  master: CutMaster,
  join: PieceJoin,
  idOf: (place: number) => string,
): Album {
  const first = album.tracks.findIndex((track) => track.master === master.sha256);
  const model = album.tracks[first];
  const made = cutRegions(cutting, master, join).map(({ in: start, out, name, gapBefore }, place): Track => ({
    ...newTrack(idOf(place), master.sha256, name),
    performer: model?.performer ?? '',
    in: start,
    out,
    gapBefore: place === 0 && model ? model.gapBefore : gapBefore,
  }));
  const place = first < 0 ? album.tracks.length : first;
  const others = (tracks: readonly Track[]): Track[] =>
    tracks.filter((track) => track.master !== master.sha256);
  return {
    ...album,
    tracks: [...others(album.tracks.slice(0, place)), ...made, ...others(album.tracks.slice(place))],
  };
}
