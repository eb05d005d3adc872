import type { MasterRecord } from '@oiseau/api';
import {
  ALIKE,
  compareNames,
  offerVersions,
  outlineLikeness,
  type OfferedMaster,
  type VersionOffer,
} from '@oiseau/album/edits';
import { masterTicks, mastersPlayed, type Album } from '@oiseau/album/model';
import { ticksToSeconds } from '@oiseau/audio/time';
import type { Silhouette } from '@oiseau/audio/measure';

/** An offer with how alike both sound: null where that can't be told, undefined while it is not known yet. */
export interface SoundedOffer extends VersionOffer {
  readonly likeness: number | null | undefined;
}

/** What came in and is not settled. */
export interface Arrivals {
  /** Files that look like newer versions of masters that songs play. */
  readonly offers: readonly SoundedOffer[];
  /** What becomes a track, in the order of the names. */
  readonly tracks: readonly MasterRecord[];
}

export const NONE: Arrivals = { offers: [], tracks: [] };

/** Sorts what came in: a file of the length of one master alone waits for its sound to say whether it is a newer version of that. */
export function sortArrivals(
  album: Pick<Album, 'songs'>,
  masters: readonly MasterRecord[],
  outlines: ReadonlyMap<string, Silhouette>,
): Arrivals {
  const played = new Set(mastersPlayed(album));
  const came = masters.filter(({ awaits, sha256 }) => awaits && !played.has(sha256));
  if (came.length === 0) return NONE;
  const offered = (list: readonly MasterRecord[]): OfferedMaster[] =>
    list.map(({ sha256, name, info }) => ({ sha256, name, seconds: ticksToSeconds(masterTicks(info)) }));
  const byId = new Map(masters.map((master) => [master.sha256, master]));
  const byName = [...came].sort((a, b) => compareNames(a.name, b.name));
  const found = offerVersions(album, offered(byName), offered(masters)).map((offer): SoundedOffer => {
    const [a, b] = [outlines.get(offer.newer), outlines.get(offer.older)];
    if (a && b) return { ...offer, likeness: outlineLikeness(a, b) };
    // What will never be measured is not waited for.
    const comes = [offer.newer, offer.older].every((sha256) => willSound(byId.get(sha256)));
    return { ...offer, likeness: comes ? undefined : null };
  });
  const held = new Set(
    found
      .filter(({ byName: named, likeness }) => named || likeness === undefined || (likeness ?? 0) >= ALIKE)
      .map(({ newer }) => newer),
  );
  return {
    offers: found.filter(
      ({ newer, byName: named, likeness }) => held.has(newer) && (named || likeness !== undefined),
    ),
    tracks: byName.filter(({ sha256 }) => !held.has(sha256)),
  };
}

/** Whether its outline is there, or on its way. */
const willSound = (master: MasterRecord | undefined): boolean =>
  master !== undefined &&
  (master.measurement !== null || master.job?.state === 'queued' || master.job?.state === 'running');
