import type { Place } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { framesToTicks, secondsToTicks, ticks, type Ticks } from '@oiseau/audio/time';
import { trackMarks } from './track-marks.js';

/** The time of a place in a part; null when it has no such mark. */
export function placeInPart(part: Part, place: Place): Ticks | null {
  const tracks = trackMarks(part);
  if (typeof place === 'number') {
    const [first] = tracks;
    return first ? ticks(first.start + secondsToTicks(place)) : null;
  }
  const [track, index = '1'] = place.split('.');
  const marks = tracks[Number(track) - 1];
  if (!marks) return null;
  switch (index) {
    case '0':
      return marks.pause;
    case '1':
      return marks.start;
    default: {
      const at = part.disc && [...part.disc.tracks.values()][Number(track) - 1]?.indexes[Number(index) - 2];
      return at == null ? null : framesToTicks(at);
    }
  }
}
