import { songOf } from '../album/album.js';
import type { Song } from '../album/song.js';
import { isUntreated } from '../process/treatment.js';
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
  /** Something is done to its sound, by itself or with the album: what was measured of its master is not what is heard. */
  readonly isTreated: boolean;
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
      const isTreated = !isUntreated(region.sound) || !isUntreated(album.sound);
      return [{ song, detail, measurement, isTreated, heard, before: undefined, after: undefined }];
    });
    return known.map((region, i) => ({ ...region, before: known[i - 1], after: known[i + 1] }));
  });
}

/** A figure in dB of a master with the gain of its song; null where there is none, or where it is not that of what is heard. */
export const lifted = ({ song, isTreated }: HeardRegion, figure: number | null | undefined): number | null =>
  figure == null || isTreated ? null : figure + song.region.gainDb;
