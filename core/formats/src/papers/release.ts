import { type Album, MEDIA, positionOf, type Song } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { parseEan } from '../disc/ean.js';
import { parseIsrc } from '../disc/isrc.js';
import * as z from '@oiseau/audio/z';

/** Sides of a cover in pixels, as shops take it. */
export const SHOP_COVER_PIXELS = 3000 as const;

const words = z.string().min(1);
const advisory = z.enum(['none', 'explicit', 'clean']);
const path = z
  .string()
  .regex(/^(?!\/)(?!.*(?:^|\/)\.\.(?:\/|$)).+$/)
  .describe('Relative to the folder in which release.json lies.');

const contributor = z.strictObject({
  role: z.enum(['songwriter', 'composer', 'arranger', 'lyricist', 'publisher']),
  name: words,
});

/** Whether a text is a day as a shop wants it: 2026-11-09. */
export const isReleaseDay = (text: string): boolean => z.iso.date().safeParse(text).success;

/** `release.json` of a package for a shop, published as docs/release.schema.json. */
export const releaseSchema = z.strictObject({
  format: z.literal('oiseau-release'),
  version: z.literal(1),
  revision: z.int().min(1).describe('A later delivery of the same release has a higher one.'),
  album: z.strictObject({
    title: words,
    performer: words,
    label: words,
    catalogNumber: z.string(),
    upc: z
      .string()
      .regex(/^\d{13}$/)
      .describe('UPC/EAN as 13 digits; it names the release.'),
    releaseDate: z.iso.date(),
    genre: z.string(),
    language: words.describe('BCP 47'),
    copyright: words.describe('The © line.'),
    phonogram: words.describe('The ℗ line.'),
    advisory,
    cover: z.strictObject({
      path,
      mediaType: z.enum(['image/jpeg', 'image/png']),
      width: z.literal(SHOP_COVER_PIXELS),
      height: z.literal(SHOP_COVER_PIXELS),
    }),
  }),
  parts: z
    .array(
      z.strictObject({
        number: z.int().min(1),
        medium: z.enum(MEDIA),
        title: words,
        tracks: z
          .array(
            z.strictObject({
              number: z.int().min(1),
              position: words.describe('“2-04”, “B1”'),
              title: words,
              performer: words,
              isrc: z.string().regex(/^[A-Z]{2}[A-Z0-9]{3}\d{7}$/),
              language: words,
              advisory,
              contributors: z.array(contributor),
              audio: z.strictObject({
                path,
                format: z.enum(['flac', 'wav']),
                rate: z.int().min(44_100),
                bits: z.union([z.literal(16), z.literal(24)]),
                samples: z.int().min(1).describe('Of one channel.'),
              }),
            }),
          )
          .min(1),
      }),
    )
    .min(1),
});
export type Release = z.output<typeof releaseSchema>;
export type ReleaseAudio = Release['parts'][number]['tracks'][number]['audio'];

/** The schema as JSON Schema (draft 2020-12). */
export const releaseJsonSchema = (): object => ({
  title: 'Oiseau release, version 1',
  ...z.toJSONSchema(releaseSchema),
});

const ROLES = ['songwriter', 'composer', 'arranger', 'lyricist', 'publisher'] as const;

/** Who made a track, by role; who is not named is the album's. */
const contributorsOf = (album: Album, track: Song): { role: (typeof ROLES)[number]; name: string }[] =>
  ROLES.flatMap((role) => {
    const name = track[role] || (role === 'lyricist' || role === 'publisher' ? '' : album[role]);
    return name === '' ? [] : { role, name };
  });

/**
 * What a shop is told of an album. What the album lacks is empty, and then fails the schema: the checks say so before.
 * @param audioOf the file of a track, by its id
 */
export function releaseOf(
  album: Album,
  parts: readonly Part[],
  revision: number,
  cover: Release['album']['cover'],
  audioOf: (song: string) => ReleaseAudio | undefined,
): Release {
  const explicit = album.songs.some((song) => song.advisory === 'explicit');
  return {
    ...{ format: 'oiseau-release', version: 1, revision },
    album: {
      ...{ title: album.title, performer: album.performer, label: album.label },
      ...{ catalogNumber: album.catalogNumber, upc: parseEan(album.upc) ?? '' },
      ...{ releaseDate: album.releaseDate, genre: album.genre, language: album.language },
      ...{ copyright: album.copyright, phonogram: album.phonogram, cover },
      advisory: explicit ? 'explicit' : 'none',
    },
    parts: parts.map((part) => ({
      ...{ number: part.number, medium: part.medium, title: part.title },
      tracks: part.tracks.flatMap((track, i) => {
        const audio = audioOf(track.id);
        if (!audio) return [];
        return {
          ...{ number: i + 1, position: positionOf(part, i + 1), title: track.title },
          performer: track.performer || album.performer,
          isrc: parseIsrc(track.isrc) ?? '',
          language: track.language || album.language,
          advisory: track.advisory || 'none',
          contributors: contributorsOf(album, track),
          audio,
        };
      }),
    })),
  };
}

export const encodeRelease = (release: Release): Uint8Array =>
  new TextEncoder().encode(`${JSON.stringify(release, null, 2)}\n`);
