import type { Album } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { type CueSheet, parseEan, parseIsrc, type Mark } from '@oiseau/formats/disc';

/** A cue sheet with the words and codes of the tracks that have marks in it; times count from the start of the file. */
export function sheetOf(
  album: Album,
  part: Part,
  file: string,
  audio: CueSheet['audio'],
  marks: readonly Mark[],
): CueSheet {
  return {
    catalog: parseEan(part.upc) ?? '',
    title: part.title,
    performer: album.performer,
    songwriter: album.songwriter,
    file,
    audio,
    tracks: part.tracks.flatMap((track, i) => {
      const indexes = marks.filter((mark) => mark.track === i + 1);
      if (indexes.length === 0) return [];
      return {
        title: track.title,
        performer: track.performer || album.performer,
        songwriter: track.songwriter || album.songwriter,
        isrc: parseIsrc(track.isrc) ?? '',
        copyPermitted: track.copyPermitted,
        preEmphasis: track.preEmphasis,
        indexes: indexes.map(({ index, frames: at }) => ({ index, frames: at })),
      };
    }),
  };
}
