import { atMost } from '@oiseau/audio/schema';
import { albumTreatmentOverridesSchema, treatmentOverridesSchema } from '@oiseau/audio/stages';
import { secondsToTicks, ticksToSeconds } from '@oiseau/audio/time';
import type { Edition, EditionTrack } from '../model/edition.js';
import { editionKey, editionName } from '../model/edition-name.js';
import { MOST_PARTS, MOST_TRACKS } from '../model/limits.js';
import { GAIN_DB } from '../model/region.js';
import { albumText, trackText } from '../model/text-fields.js';
import {
  demandParts,
  fade,
  fadeFromFile,
  fadeToFile,
  filePart,
  partFromFile,
  partsToFile,
  seconds,
  secondsOrNull,
  ticksOrNull,
  type ReportFault,
} from './file-fields.js';
import * as z from '@oiseau/audio/z';

const fileEditionTrack = z.strictObject({
  in: seconds.min(0).optional(),
  out: seconds.min(0).nullable().optional(),
  gapBefore: seconds.optional(),
  fadeIn: fade.unwrap().optional(),
  fadeOut: fade.unwrap().optional(),
  gain: z.number().min(GAIN_DB.least).max(GAIN_DB.most).optional(),
  indexes: atMost(97, 'indexes', z.array(seconds.min(0))).optional(),
  sound: treatmentOverridesSchema.optional(),
  isrc: trackText.isrc.optional(),
  title: trackText.title.optional(),
});

/** A variant of the album (docs/album-file.md 2): what it says nothing of is the album's. */
export const fileEdition = z.strictObject({
  name: editionName,
  draft: z.boolean().default(false),
  /** Numbers of the album's tracks, from 1, each at most once; left out: all tracks in the album's order. */
  order: atMost(MOST_TRACKS, 'tracks', z.array(z.int().min(1)).min(1)).optional(),
  /** `first` counts the edition's own tracks. */
  parts: atMost(MOST_PARTS, 'parts', z.array(filePart)).optional(),
  sound: albumTreatmentOverridesSchema.default({}),
  /** By the album's track number. */
  tracks: z.record(z.string().regex(/^[1-9]\d{0,2}$/), fileEditionTrack).default({}),
  title: albumText.title.default(''),
  upc: albumText.upc.default(''),
  catalogNumber: albumText.catalogNumber.default(''),
  releaseDate: albumText.releaseDate.default(''),
});
type FileEdition = z.output<typeof fileEdition>;
type FileEditionTrack = z.output<typeof fileEditionTrack>;

/** Numbers of the album's tracks that are on an edition, in its order. */
const numbersOf = ({ order }: { readonly order?: readonly number[] | undefined }, count: number): number[] =>
  order ? [...order] : Array.from({ length: count }, (_, i) => i + 1);

/** Reports what an edition can't have: a name or a number twice, a track that is not there. */
export function demandEditions(
  editions: readonly FileEdition[],
  trackCount: number,
  report: ReportFault,
): void {
  const names = new Set<string>();
  editions.forEach((edition, i) => {
    const { name, order = [], parts = [] } = edition;
    if (names.has(editionKey(name))) report(['editions', i, 'name'], `Two editions are named “${name}”.`);
    names.add(editionKey(name));
    order.forEach((number, place) => {
      const at = ['editions', i, 'order', place];
      if (number > trackCount) report(at, `There is no track ${number}; the album has ${trackCount}.`);
      if (order.indexOf(number) < place) report(at, `Track ${number} is on edition “${name}” twice.`);
    });
    const own = numbersOf(edition, trackCount);
    demandParts(parts, own.length, ['editions', i, 'parts'], report);
    const onIt = new Set(own);
    for (const number of Object.keys(edition.tracks))
      if (!onIt.has(Number(number)))
        report(['editions', i, 'tracks', number], `Track ${number} is not on edition “${name}”.`);
  });
}

/** A value of each field that is given; the others stay left out. */
const given = <T extends object>(fields: T): { [K in keyof T]?: Exclude<T[K], undefined> } =>
  Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined)) as never;

const ifGiven = <From, To>(value: From | undefined, to: (value: From) => To): To | undefined =>
  value === undefined ? undefined : to(value);

const trackFromFile = ({ gain, ...track }: FileEditionTrack): EditionTrack =>
  given({
    in: ifGiven(track.in, secondsToTicks),
    out: ifGiven(track.out, ticksOrNull),
    gapBefore: ifGiven(track.gapBefore, secondsToTicks),
    fadeIn: ifGiven(track.fadeIn, fadeFromFile),
    fadeOut: ifGiven(track.fadeOut, fadeFromFile),
    gainDb: gain,
    indexes: ifGiven(track.indexes, (all) => all.map(secondsToTicks)),
    sound: track.sound,
    isrc: track.isrc,
    title: track.title,
  });

const trackToFile = ({ gainDb, ...track }: EditionTrack): FileEditionTrack =>
  given({
    in: ifGiven(track.in, ticksToSeconds),
    out: ifGiven(track.out, secondsOrNull),
    gapBefore: ifGiven(track.gapBefore, ticksToSeconds),
    fadeIn: ifGiven(track.fadeIn, fadeToFile),
    fadeOut: ifGiven(track.fadeOut, fadeToFile),
    gain: gainDb,
    indexes: ifGiven(track.indexes, (all) => all.map(ticksToSeconds)),
    sound: track.sound,
    isrc: track.isrc,
    title: track.title,
  });

/** @param idAt the id of the album's track by its number, from 1 */
export function editionFromFile(
  { order, parts, tracks, ...edition }: FileEdition,
  trackCount: number,
  idAt: (number: number) => string,
): Edition {
  const own = numbersOf({ order }, trackCount);
  return {
    ...edition,
    order: order ? order.map(idAt) : null,
    parts: parts ? parts.map((part) => partFromFile(part, (number) => idAt(own[number - 1] ?? 0))) : null,
    tracks: Object.fromEntries(
      Object.entries(tracks).map(([number, track]) => [idAt(Number(number)), trackFromFile(track)]),
    ),
  };
}

/**
 * Ids of tracks that are gone are left out; an edition that has none of its tracks left is of all tracks.
 * @param numberOf the number of the album's track by its id, from 1; null: it is not there
 */
export function editionToFile(
  { order, parts, tracks, ...edition }: Edition,
  numberOf: (id: string) => number | null,
): FileEdition {
  const numbers = order?.flatMap((id) => numberOf(id) ?? []) ?? [];
  /** Numbers on the edition. */
  const placeOf = (id: string): number | null => {
    const number = numberOf(id);
    const place = number === null || numbers.length === 0 ? number : numbers.indexOf(number) + 1;
    return place === 0 ? null : place;
  };
  const own = Object.entries(tracks).flatMap(([id, track]) => {
    const number = placeOf(id) === null ? null : numberOf(id);
    return number === null ? [] : [[String(number), trackToFile(track)] as const];
  });
  return {
    ...edition,
    ...(numbers.length > 0 ? { order: numbers } : {}),
    ...(parts ? { parts: partsToFile(parts, placeOf) } : {}),
    tracks: Object.fromEntries(own),
  };
}
