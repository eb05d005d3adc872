import { secondsToTicks, ticks, type Ticks } from '@oiseau/audio/time';
import { albumTreatmentSchema, NO_ALBUM_TREATMENT } from '@oiseau/audio/stages';
import { atMost } from '@oiseau/audio/schema';
import { deliverableSchema } from './deliverable.js';
import { editionSchema, type Edition } from './edition.js';
import { editionKey } from './edition-name.js';
import { MOST_ACCEPTED, MOST_DELIVERABLES, MOST_EDITIONS, MOST_PARTS, MOST_TRACKS } from './limits.js';
import { partSettingsSchema } from './parts.js';
import { ticksSchema } from './region.js';
import { songSchema, type Song } from './song.js';
import { acceptedShape, albumText, laterAlbumText } from './text-fields.js';
import * as z from '@oiseau/audio/z';

/** Names of deliverables that are left out when the album is rendered; it changes nothing of what is rendered. */
export const unselectedSchema = atMost(
  MOST_DELIVERABLES,
  'deliverables',
  z.array(z.string().min(1).max(100)),
).default([]);

/**
 * An album as Oiseau keeps it: times in ticks, masters by content. The album *file* (`file.ts`) is its open form, with
 * times in seconds and masters by file name; `stored.ts` reads what earlier versions kept.
 */
export const albumSchema = z
  .strictObject({
    ...albumText,
    ...laterAlbumText,
    /** Accepted findings; `song` is the id of the track, null for the album. */
    accepted: atMost(
      MOST_ACCEPTED,
      'accepted findings',
      z.array(z.strictObject({ ...acceptedShape, song: z.string().max(40).nullable() })),
    ),
    /** SHA-256 of the cover's file. */
    artwork: z
      .string()
      .regex(/^[0-9a-f]{64}$/)
      .nullable(),
    markLead: ticksSchema,
    endPause: ticksSchema,
    /** What is done to the mixed programme of each part by itself. */
    sound: albumTreatmentSchema.default(NO_ALBUM_TREATMENT),
    /** All songs in the order in which they are heard. */
    songs: atMost(MOST_TRACKS + 1, 'songs', z.array(songSchema)),
    /** Where parts begin; none: one CD. */
    parts: atMost(MOST_PARTS, 'parts', z.array(partSettingsSchema)),
    deliverables: atMost(MOST_DELIVERABLES, 'deliverables', z.array(deliverableSchema)),
    /** None: one edition, without a name, of all tracks. */
    editions: atMost(MOST_EDITIONS, 'editions', z.array(editionSchema)).default([]),
    unselected: unselectedSchema,
  })
  .superRefine((album, context) => {
    const { songs, parts, editions } = album;
    if (lengthAtMost(album) > MOST_ALBUM_TICKS)
      context.addIssue({
        code: 'custom',
        path: ['songs'],
        message: 'The gaps and regions add up to more than 100 days.',
      });
    const names = new Set<string>();
    const length = lengthAtMost(album);
    editions.forEach((edition, i) => {
      const { name, order } = edition;
      const fault = (field: string, message: string): void =>
        context.addIssue({ code: 'custom', path: ['editions', i, field], message });
      if (names.has(editionKey(name))) fault('name', `Two editions are named “${name}”.`);
      names.add(editionKey(name));
      if (order && new Set(order).size < order.length) fault('order', `Edition “${name}” has a track twice.`);
      if (length + overridesAtMost(edition) > MOST_ALBUM_TICKS)
        fault('tracks', `The gaps and regions of edition “${name}” add up to more than 100 days.`);
    });
    const seen = new Set<string>();
    songs.forEach(({ id, numbered }, i) => {
      const fault = (field: string, message: string): void =>
        context.addIssue({ code: 'custom', path: ['songs', i, field], message });
      if (seen.has(id)) fault('id', 'Two tracks have the same id.');
      seen.add(id);
      if (!numbered && i > 0) fault('numbered', 'Only the first track can be hidden.');
    });
    parts.reduce((before, { first }, i) => {
      const place = songs.findIndex(({ id }) => id === first);
      if (place <= before)
        context.addIssue({
          code: 'custom',
          path: ['parts', i, 'first'],
          message: 'Each part must start with a track of the album, after the previous part.',
        });
      return place;
    }, -1);
  });

/** A hundred days: no position in an album leaves the exact range of a double. */
const MOST_ALBUM_TICKS = secondsToTicks(8_640_000);

/** What the gaps, regions with an out point and end pause of an album add up to, whatever their signs. */
const lengthAtMost = ({
  songs,
  endPause,
}: {
  readonly songs: readonly Song[];
  readonly endPause: Ticks;
}): number =>
  songs.reduce(
    (sum, { region }) =>
      sum + Math.abs(region.gapBefore) + (region.out === null ? 0 : Math.abs(region.out - region.in)),
    Math.abs(endPause),
  );

/** What the gaps, in points and out points that an edition overrides add up to, whatever their signs. */
const overridesAtMost = ({ tracks }: Edition): number =>
  Object.values(tracks).reduce(
    (sum, own) => sum + Math.abs(own.gapBefore ?? 0) + Math.abs(own.in ?? 0) + Math.abs(own.out ?? 0),
    0,
  );

export type Album = z.output<typeof albumSchema>;
export type TextField = keyof typeof albumText;

/** An album, or a part of one. */
interface HasSongs {
  readonly songs: readonly Song[];
}

/** The tracks: every song that has a number. */
export const tracksOf = ({ songs }: HasSongs): readonly Song[] =>
  songs[0] && !songs[0].numbered ? songs.slice(1) : songs;

/** The song in the first pause, before the start mark of track 1; it has no number, and no file of its own. */
export const hiddenSong = ({ songs }: HasSongs): Song | undefined =>
  songs[0]?.numbered === false ? songs[0] : undefined;

export const songOf = ({ songs }: HasSongs, id: string): Song | undefined =>
  songs.find((song) => song.id === id);

/** The song that is heard before another; none before the first. */
export function songBefore({ songs }: HasSongs, id: string): Song | undefined {
  return songs[songs.findIndex((song) => song.id === id) - 1];
}

/** An album with nothing in it yet but the two deliverables nearly everyone needs. */
export function newAlbum(title: string): Album {
  return {
    title,
    performer: '',
    songwriter: '',
    composer: '',
    arranger: '',
    message: '',
    genre: '',
    label: '',
    catalogNumber: '',
    upc: '',
    releaseDate: '',
    copyright: '',
    phonogram: '',
    language: 'en',
    discNumber: 1,
    discTotal: 1,
    genreCode: 0,
    comment: '',
    tags: {},
    cdTextCharset: 'iso-8859-1',
    cdTextPlain: false,
    secondLanguage: null,
    accepted: [],
    artwork: null,
    markLead: ticks(0),
    endPause: ticks(0),
    sound: NO_ALBUM_TREATMENT,
    songs: [],
    parts: [],
    deliverables: [
      deliverableSchema.parse({ name: 'image', kind: 'cue', audio: 'wav' }),
      deliverableSchema.parse({ name: 'files', kind: 'tracks', format: 'flac', bits: 24 }),
    ],
    editions: [],
    unselected: [],
  };
}
