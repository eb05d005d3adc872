import { isLossy } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { nameOfSound, partSound, songSound, type MeasuredSound } from '@oiseau/album/measured';
import {
  type MovingDb,
  responseDb,
  automatedValues,
  isUntreated,
  reducesGain,
  NO_TREATMENT,
  type Treatment,
} from '@oiseau/audio/stages';
import { isInside, type Interval, ticksToSeconds } from '@oiseau/audio/time';
import type { CheckSubject, Finding, Rule } from './finding.js';
import { clippedRuns, heardRegions } from './heard-region.js';
import { CEILING_DBTP } from './lossy-peaks.js';

/** A limiter that takes more away is heard, dB; one that works longer is none, share of the time. */
const DEEP_DB = 6;
const ALWAYS = 1 / 3;
/** Few rooms show what a larger lift of the lowest octave does, dB. */
const LOWEST_DB = 6;
const LOWEST_HZ = [20, 25, 31.5, 40];

/** What is doubtful about what is done to the sound of songs and of the album. */
export const sound: Rule = (subject) => [
  ...limiters(subject),
  ...ofTreatments(subject),
  ...bitsLost(subject),
  ...clippedAndPressed(subject),
];

/** Each treatment with whose it is and where its values may have points, seconds. */
function treatmentsOf({ album, parts }: CheckSubject): {
  readonly song: string | null;
  readonly treatment: Treatment;
  readonly heard: Interval<number>;
}[] {
  const longest = Math.max(0, ...parts.map(({ placement }) => ticksToSeconds(placement.end)));
  return [
    ...parts.flatMap(({ sequence }) =>
      sequence.songs.map(({ id, region }) => ({
        song: id,
        treatment: region.sound,
        heard: { start: ticksToSeconds(region.in), end: ticksToSeconds(region.out) },
      })),
    ),
    { song: null, treatment: { ...NO_TREATMENT, ...album.sound }, heard: { start: 0, end: longest } },
  ];
}

function limiters({ parts, sounds }: CheckSubject): Finding[] {
  const judged = (of: MeasuredSound | null, song: string | null, part: number): Finding[] => {
    const limiter = of && sounds?.get(nameOfSound(of))?.limiter;
    if (!limiter) return [];
    const { mostDb, share } = limiter;
    return [
      ...(mostDb > DEEP_DB
        ? [{ code: 'limiter-deep', severity: 'warning', song, part, mostDb } as const]
        : []),
      ...(share > ALWAYS ? [{ code: 'limiter-always', severity: 'hint', song, part, share } as const] : []),
    ];
  };
  return parts.flatMap((part: Part) => [
    ...part.sequence.songs.flatMap(({ id, region }) => judged(songSound(region), id, part.number)),
    ...judged(partSound(part), null, part.number),
  ]);
}

function ofTreatments(subject: CheckSubject): Finding[] {
  const lossy = subject.album.deliverables.find(isLossy);
  const albumLimits = subject.album.sound.limiter !== null;
  return treatmentsOf(subject).flatMap(({ song, treatment, heard }): Finding[] => {
    const { equaliser, limiter } = treatment;
    const found: Finding[] = [];
    const moments = [0, ...equaliser.flatMap((band) => ('db' in band ? timesOf(band.db) : []))];
    const byDb = Math.max(...moments.flatMap((at) => LOWEST_HZ.map((hz) => responseDb(equaliser, hz, at))));
    if (byDb > LOWEST_DB) found.push({ code: 'lowest-lifted', severity: 'hint', song, byDb });
    // Of several limiters the last one decides.
    if (lossy && limiter && limiter.ceiling > CEILING_DBTP && (song === null || !albumLimits)) {
      const { ceiling } = limiter;
      found.push({ code: 'ceiling-high', severity: 'warning', song, ceiling, deliverable: lossy.name });
    }
    const points = automatedValues(treatment)
      .map(({ value }) => value)
      .flatMap(timesOf)
      .filter((at) => !isInside(heard, at) && at !== heard.end).length;
    if (points > 0) found.push({ code: 'points-outside', severity: 'hint', song, points });
    return found;
  });
}

const timesOf = (value: MovingDb): number[] => (typeof value === 'number' ? [] : value.map(({ at }) => at));

function bitsLost({ album, parts }: CheckSubject): Finding[] {
  if (isUntreated(album.sound)) return [];
  const songs = parts
    .flatMap(({ sequence }) => sequence.songs)
    .filter(({ region }) => isUntreated(region.sound) && region.gainDb === 0).length;
  return songs > 0 ? [{ code: 'bits-lost', severity: 'hint', songs }] : [];
}

function clippedAndPressed(subject: CheckSubject): Finding[] {
  return heardRegions(subject).flatMap((region): Finding[] => {
    const { song } = region;
    if (!reducesGain(song.region.sound) && !reducesGain(subject.album.sound)) return [];
    const runs = clippedRuns(region);
    return runs > 0 ? [{ code: 'clipped-pressed', severity: 'warning', song: song.id, runs }] : [];
  });
}
