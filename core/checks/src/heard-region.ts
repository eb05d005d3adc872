import { songOf, type Song } from '@oiseau/album/model';
import { heardFigures, type HeardFigures } from '@oiseau/album/measured';
import type { MasterMeasurement } from '@oiseau/audio/measure';
import { isInside, type Interval, ticksToSeconds } from '@oiseau/audio/time';
import type { CheckSubject } from './finding.js';
import type { DoubtSubject } from './master-doubts.js';

/** What a song plays of its master, with what is known of that. */
export interface HeardRegion {
  readonly song: Song;
  readonly detail: DoubtSubject;
  readonly measurement: MasterMeasurement | null;
  /** Of the song as it is heard, after everything that is done to it and to the album; null while they are not known. */
  readonly figures: HeardFigures | null;
  /** In and out points in seconds of the master. */
  readonly heard: Interval<number>;
  /** Songs next to it in its part, as far as anything is known of them. */
  readonly before: HeardRegion | undefined;
  readonly after: HeardRegion | undefined;
}

/** Everything that sounds, with what was measured of it; without details there is nothing. */
export function heardRegions({ album, parts, details, sounds = new Map() }: CheckSubject): HeardRegion[] {
  if (!details) return [];
  return parts.flatMap((part) => {
    const all = heardFigures(part, (master) => details.get(master)?.measurement ?? null, sounds);
    const known = part.sequence.songs.flatMap(({ id, region }): HeardRegion[] => {
      const song = songOf(album, id);
      const detail = details.get(region.master);
      if (!song || !detail) return [];
      const { measurement } = detail;
      const heard = { start: ticksToSeconds(region.in), end: ticksToSeconds(region.out) };
      const figures = all.get(id) ?? null;
      return [{ song, detail, measurement, figures, heard, before: undefined, after: undefined }];
    });
    return known.map((region, i) => ({ ...region, before: known[i - 1], after: known[i + 1] }));
  });
}

/** Clipped runs of a master within what is played of it. */
export function clippedRuns({ measurement, detail, heard }: HeardRegion): number {
  if (!measurement) return 0;
  const inside = measurement.clipped.filter(({ at }) => isInside(heard, at / detail.info.rate));
  // Of many runs only the first are kept by their place.
  const all = measurement.clipped.length === measurement.clippedRuns;
  return all ? inside.length : measurement.clippedRuns;
}
