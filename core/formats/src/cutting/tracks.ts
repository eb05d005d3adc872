import { type Album, withSongs, DEFAULT_GAP, newSong, type Song } from '@oiseau/album/model';
import type { Silhouette } from '@oiseau/audio/measure';
import { samples, samplesToTicks, ticks, type Ticks, type Interval } from '@oiseau/audio/time';
import { pieceEnd, type Cutting } from './cutting.js';
import { suggestTrim, type TrimSettings } from './trim.js';

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

/** The stretch of its master that each kept piece plays, with its name and the gap before it. */
export function cutRegions(
  cutting: Cutting,
  { rate, outline }: Pick<CutMaster, 'rate' | 'outline'>,
  join: PieceJoin,
): (Interval<Ticks> & { readonly name: string; readonly gapBefore: Ticks })[] {
  const at = (sample: number): Ticks => samplesToTicks(samples(sample), rate);
  return cutting.pieces
    .map((piece, i) => ({ ...piece, stretch: { start: at(piece.start), end: at(pieceEnd(cutting, i)) } }))
    .filter(({ keep }) => keep)
    .map(({ name, stretch }, place) => {
      const trimmed = join.kind === 'trimmed' ? suggestTrim(outline, stretch, join.trim) : null;
      const gap = join.kind === 'trimmed' ? join.gap : ticks(0);
      return {
        ...(trimmed ?? stretch),
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
  const plays = ({ numbered, region }: Song): boolean => numbered && region.master === master.sha256;
  const model = album.songs.find(plays);
  const made = cutRegions(cutting, master, join).map(({ start, end, name, gapBefore }, place): Song => {
    const gap = place === 0 && model ? model.region.gapBefore : gapBefore;
    const song = newSong(idOf(place), master.sha256, name, gap);
    return {
      ...song,
      performer: model?.performer ?? '',
      region: { ...song.region, in: start, out: end },
    };
  });
  const place = model ? album.songs.indexOf(model) : album.songs.length;
  const others = (songs: readonly Song[]): Song[] => songs.filter((song) => !plays(song));
  return withSongs(album, [
    ...others(album.songs.slice(0, place)),
    ...made,
    ...others(album.songs.slice(place)),
  ]);
}
