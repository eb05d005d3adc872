import type { Album } from '../../album/album.js';
import type { Part } from '../../album/part.js';
import type { CueSheet } from '../../disc/cue-sheet.js';
import { parseEan } from '../../disc/ean.js';
import { parseIsrc } from '../../disc/isrc.js';
import type { Mark } from '../../disc/marks.js';

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
