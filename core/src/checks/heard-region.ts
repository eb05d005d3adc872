import { songOf } from '../album/album.js';
import type { Song } from '../album/song.js';
import type { MasterMeasurement } from '../measure/master-meters.js';
import type { Interval } from '../time/interval.js';
import { ticksToSeconds } from '../time/ticks.js';
import type { CheckSubject } from './finding.js';
import type { DoubtSubject } from './master-doubts.js';

/** What a song plays of its master, with what is known of that. */
export interface HeardRegion {
  readonly song: Song;
  readonly detail: DoubtSubject;
  readonly measurement: MasterMeasurement | null;
  /** In and out points in seconds of the master. */
  readonly heard: Interval<number>;
  /** Songs next to it in its part, as far as anything is known of them. */
  readonly before: HeardRegion | undefined;
  readonly after: HeardRegion | undefined;
}

/** Everything that sounds, with what was measured of it; without details there is nothing. */
export function heardRegions({ album, parts, details }: CheckSubject): HeardRegion[] {
  if (!details) return [];
  return parts.flatMap(({ sequence }) => {
    const known = sequence.songs.flatMap(({ id, region }): HeardRegion[] => {
      const song = songOf(album, id);
      const detail = details.get(region.master);
      if (!song || !detail) return [];
      const { measurement } = detail;
      const heard = { start: ticksToSeconds(region.in), end: ticksToSeconds(region.out) };
      return [{ song, detail, measurement, heard, before: undefined, after: undefined }];
    });
    return known.map((region, i) => ({ ...region, before: known[i - 1], after: known[i + 1] }));
  });
}
