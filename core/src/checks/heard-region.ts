import type { Track } from '../album/album.js';
import { trackAtIndex } from '../album/edit.js';
import { sounding } from '../album/sequence.js';
import type { MasterMeasurement } from '../measure/master-meters.js';
import { ticksToSeconds } from '../time/ticks.js';
import type { CheckSubject } from './finding.js';
import type { DoubtSubject } from './master-doubts.js';

/** What a track plays of its master, with what is known of that. */
export interface HeardRegion {
  /** −1: the hidden song. */
  readonly track: number;
  readonly of: Track;
  readonly detail: DoubtSubject;
  readonly measurement: MasterMeasurement | null;
  /** In and out points in seconds of the master. */
  readonly from: number;
  readonly until: number;
}

/** Everything that sounds, with what was measured of it; without details there is nothing. */
export function heardRegions({ album, sequence, details }: CheckSubject): HeardRegion[] {
  if (!details) return [];
  const first = album.hidden ? -1 : 0;
  return sounding(sequence).flatMap((region, i): HeardRegion[] => {
    const track = first + i;
    const of = trackAtIndex(album, track);
    const detail = of && details.get(of.master);
    if (!of || !detail) return [];
    const { measurement } = detail;
    return [
      { track, of, detail, measurement, from: ticksToSeconds(region.in), until: ticksToSeconds(region.out) },
    ];
  });
}
