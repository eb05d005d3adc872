import { correlation, type Silhouette } from '@oiseau/audio/measure';
import { bareName, type OfferedMaster } from './alternate-offers.js';
import { mastersPlayed } from '../model/alternates.js';
import type { Album } from '../model/album.js';
import { titleFromFileName } from './edit.js';

/** A file that came in, and looks like a newer version of a master that songs play. */
export interface VersionOffer {
  readonly newer: string;
  readonly older: string;
  /** The names are alike; or else the lengths alone, and the sound must say. */
  readonly byName: boolean;
}

/** What people put behind a name when a file goes out once more: numbers and dates of versions, rates, words. */
const VERSION_WORDS =
  /(?:^|\s)(?:v(?:er(?:sion)?)?\s*\d+(?:\.\d+)?|r(?:ev(?:ision)?)?\s*\d+|final(?:\s*\d+)?|master(?:ed)?(?:\s*\d+)?|remaster(?:ed)?|new|newer|newest|latest|fix(?:ed)?|corrected|approved|copy|redelivery|update[d]?|alt|(?:19|20)\d{2}\s?\d{2}\s?\d{2}|\d{2,3}(?:\.\d)?\s?k(?:hz)?|(?:16|24|32)\s?bit|(?:16|24|32)\s(?:44|48|88|96|176|192)(?:\.\d)?|\(?\d{1,2}\)?)$/;

/** A file's name without what tells its versions apart: “03 Glass Ledger_v2 FINAL (1).wav” and “Glass Ledger.wav” are one. */
export function nameOfRecording(fileName: string): string {
  let words = titleFromFileName(fileName)
    .toLowerCase()
    .replace(/[_()[\]-]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  for (;;) {
    const shorter = words.replace(VERSION_WORDS, '').trim();
    // A title that is nothing else (“Final”) stays as it is.
    if (shorter === '' || shorter === words) return bareName(words);
    words = shorter;
  }
}

/** Lengths of two masters of one recording whose names say nothing, seconds apart at most; and how short one may be. */
const SAME_LENGTH_S = 0.05;
const LEAST_LENGTH_S = 5;
/** A file of one name may have another length, but not another order of it. */
const MOST_RATIO = 2;

/**
 * Which of the files that came in look like newer versions of masters that an album plays. Each master is offered once, and each file once:
 * by its name if there is one of that name, else by its length.
 * @param came files that came in, in the order in which they are to be offered
 * @param masters those of the album
 */
export function offerVersions(
  album: Pick<Album, 'songs'>,
  came: readonly OfferedMaster[],
  masters: readonly OfferedMaster[],
): VersionOffer[] {
  const coming = new Set(came.map(({ sha256 }) => sha256));
  const played = new Set(mastersPlayed(album));
  const older = masters.filter(({ sha256 }) => played.has(sha256) && !coming.has(sha256));
  const taken = new Set<string>();
  const offers = new Map<string, VersionOffer>();
  const offer = (newer: OfferedMaster, byName: boolean, fits: (master: OfferedMaster) => boolean): void => {
    if (offers.has(newer.sha256)) return;
    const found = older.filter((master) => !taken.has(master.sha256) && fits(master));
    // Two equally good candidates: ambiguous.
    const [one, ...others] = found;
    if (!one || (others.length > 0 && !byName)) return;
    taken.add(one.sha256);
    offers.set(newer.sha256, { newer: newer.sha256, older: one.sha256, byName });
  };
  for (const newer of came) {
    const name = nameOfRecording(newer.name);
    offer(
      newer,
      true,
      (master) =>
        nameOfRecording(master.name) === name &&
        Math.max(master.seconds, newer.seconds) <= MOST_RATIO * Math.min(master.seconds, newer.seconds),
    );
  }
  for (const newer of came)
    offer(
      newer,
      false,
      (master) =>
        newer.seconds >= LEAST_LENGTH_S && Math.abs(master.seconds - newer.seconds) <= SAME_LENGTH_S,
    );
  return came.flatMap(({ sha256 }) => offers.get(sha256) ?? []);
}

/** So alike are the outlines of two masters of one recording at least, and of two recordings at most; tried on the demo’s masters. */
export const ALIKE = 0.9;
export const UNALIKE = 0.6;
/** Buckets of 1/75 s in one that is compared, and how far one may lie beside the other, in those: 0.2 s and 2 s. */
const STEP = 15;
const MOST_LAG = 10;

/**
 * How alike the courses of two outlines are: the correlation of their RMS over time, whatever their levels, at the lag that shows it best.
 * @returns −1 to 1; null where one is too short or does not move
 */
export function outlineLikeness(a: Silhouette, b: Silhouette): number | null {
  const [x, y] = [courseOf(a), courseOf(b)];
  let best: number | null = null;
  for (let lag = -MOST_LAG; lag <= MOST_LAG; lag++) {
    const from = Math.max(0, -lag);
    const count = Math.min(x.length - from, y.length - from - lag);
    const found =
      count < 2 * MOST_LAG
        ? null
        : correlation(x.subarray(from, from + count), y.subarray(from + lag, from + lag + count));
    if (found !== null && (best === null || found > best)) best = found;
  }
  return best;
}

function courseOf(outline: Silhouette): Float64Array {
  const coarse = outline.coarser(STEP);
  return Float64Array.from({ length: coarse.length }, (_, i) => coarse.over(i, i + 1).rms);
}
