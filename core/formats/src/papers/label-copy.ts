import { english } from '@oiseau/messages';
import { tracksOf, type Album, partName, positionOf } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { formatClock, ticks } from '@oiseau/audio/time';
import { parseEan } from '../disc/ean.js';
import { formatIsrc, parseIsrc } from '../disc/isrc.js';
import type { Paper } from '../disc/paper.js';

/** A track as a label prints it. */
export interface LabelTrack {
  /** “4” on a single disc, else “2-04”, “B1”. */
  readonly position: string;
  readonly title: string;
  readonly performer: string;
  /** Credits by role; all are listed. */
  readonly writers: readonly (readonly [role: string, name: string])[];
  readonly publisher: string;
  /** With hyphens; empty when there is none. */
  readonly isrc: string;
  /** MM:SS, from its first audio to its last. */
  readonly length: string;
  readonly advisory: string;
}

/** All words and codes of an album (docs/rules.md 14.1). */
export interface LabelCopy {
  readonly title: string;
  readonly performer: string;
  /** Fields of the album by name; empty ones are left out. */
  readonly facts: readonly (readonly [name: string, value: string])[];
  readonly tracks: readonly LabelTrack[];
}

const WRITERS = ['songwriter', 'composer', 'arranger', 'lyricist'] as const;

/** Where a track stands: its number on a single disc, else with that of its part. */
export const placeOf = (part: Part, number: number): string =>
  part.of === 1 && part.kind === 'disc' ? String(number) : positionOf(part, number);

/** @param parts the album laid out */
export function labelCopy(album: Album, parts: readonly Part[]): LabelCopy {
  const upc = parseEan(album.upc) ?? '';
  const several = parts.length > 1;
  const facts: (readonly [string, string])[] = [
    ['Label', album.label],
    ['Catalogue number', album.catalogNumber],
    ['UPC/EAN', upc],
    ['Released', album.releaseDate],
    ['Genre', album.genre],
    ['Language', album.language],
    ['©', album.copyright],
    ['℗', album.phonogram],
    ['Tracks', String(tracksOf(album).length)],
    ...(several
      ? parts.map((part): readonly [string, string] => {
          const own = parseEan(part.upc) ?? '';
          const length = formatClock(part.placement.end);
          return [
            english(partName(part)),
            [part.title, length, own === upc ? '' : own].filter(Boolean).join(', '),
          ];
        })
      : []),
  ];
  return {
    ...{ title: album.title, performer: album.performer },
    facts: facts.filter(([, value]) => value !== ''),
    tracks: parts.flatMap((part) =>
      part.tracks.map((track, i): LabelTrack => {
        const placed = part.placement.songs.get(track.id);
        const isrc = parseIsrc(track.isrc);
        const writerOf = (role: (typeof WRITERS)[number]): string =>
          track[role] || (role === 'lyricist' ? '' : album[role]);
        return {
          position: placeOf(part, i + 1),
          title: track.title,
          performer: track.performer || album.performer,
          writers: WRITERS.flatMap((role) => (writerOf(role) ? [[role, writerOf(role)] as const] : [])),
          publisher: track.publisher,
          isrc: isrc ? formatIsrc(isrc) : '',
          length: placed ? formatClock(ticks(placed.end - placed.start)) : '',
          advisory: track.advisory,
        };
      }),
    ),
  };
}

const HEAD = ['position', 'title', 'performer', ...WRITERS, 'publisher', 'isrc', 'length', 'advisory'];

/** The sheet as a table: the fields of the album, an empty line, a line of names, then the tracks. */
export function labelRows({ title, performer, facts, tracks }: LabelCopy): readonly (readonly string[])[] {
  return [
    ['Title', title],
    ['Performer', performer],
    ...facts,
    [''],
    HEAD,
    ...tracks.map((track) => {
      const writers = new Map(track.writers);
      return [
        ...[track.position, track.title, track.performer, ...WRITERS.map((role) => writers.get(role) ?? '')],
        ...[track.publisher, track.isrc, track.length, track.advisory],
      ];
    }),
  ];
}

/** The sheet for print. */
export const labelPaper = ({ title, performer, facts, tracks }: LabelCopy): Paper => ({
  ...{ title, author: performer, what: 'Label copy', facts, notes: [] },
  columns: [
    { name: 'No.', share: 6, isNumber: false },
    { name: 'Title', share: 27, isNumber: false },
    { name: 'Performer', share: 19, isNumber: false },
    { name: 'Credits', share: 24, isNumber: false },
    { name: 'ISRC', share: 15, isNumber: false },
    { name: 'Length', share: 9, isNumber: true },
  ],
  rows: tracks.map((track) => ({
    cells: [
      track.position,
      [track.title || 'Untitled', track.advisory].filter(Boolean).join(' · '),
      track.performer,
      [
        ...track.writers.map(([role, name]) => `${name} (${role})`),
        track.publisher && `${track.publisher} (publisher)`,
      ]
        .filter(Boolean)
        .join('\n'),
      track.isrc,
      track.length,
    ],
  })),
});
