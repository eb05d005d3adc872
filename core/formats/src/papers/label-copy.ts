import { english, joined, msg, type Message, type ReaderLanguage } from '@oiseau/messages';
import { tracksOf, type Album, partName, positionOf } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { formatClock, ticks } from '@oiseau/audio/time';
import { parseEan } from '../disc/ean.js';
import { formatIsrc, parseIsrc } from '../disc/isrc.js';
import type { Paper, PaperText } from '../disc/paper.js';

const WRITERS = ['songwriter', 'composer', 'arranger', 'lyricist'] as const;
type Writer = (typeof WRITERS)[number];

/** A track as a label prints it. */
export interface LabelTrack {
  /** “4” on a single disc, else “2-04”, “B1”. */
  readonly position: string;
  readonly title: string;
  readonly performer: string;
  /** Credits by role; all are listed. */
  readonly writers: readonly (readonly [role: Writer, name: string])[];
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
  readonly facts: readonly (readonly [name: Message, value: string])[];
  readonly tracks: readonly LabelTrack[];
}

/** Where a track stands: its number on a single disc, else with that of its part. */
export const placeOf = (part: Part, number: number): string =>
  part.of === 1 && part.kind === 'disc' ? String(number) : positionOf(part, number);

/** @param parts the album laid out */
export function labelCopy(album: Album, parts: readonly Part[]): LabelCopy {
  const upc = parseEan(album.upc) ?? '';
  const several = parts.length > 1;
  const facts: (readonly [Message, string])[] = [
    [msg('Label'), album.label],
    [msg('Catalogue number'), album.catalogNumber],
    [msg('UPC/EAN'), upc],
    [msg('Released'), album.releaseDate],
    [msg('Genre'), album.genre],
    [msg('Language'), album.language],
    [msg('©'), album.copyright],
    [msg('℗'), album.phonogram],
    [msg('Tracks'), String(tracksOf(album).length)],
    ...(several
      ? parts.map((part): readonly [Message, string] => {
          const own = parseEan(part.upc) ?? '';
          const length = formatClock(part.placement.end);
          return [partName(part), [part.title, length, own === upc ? '' : own].filter(Boolean).join(', ')];
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
    ...facts.map(([name, value]) => [english(name), value]),
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

/** A name with its role in the credits. */
const CREDITS: Readonly<Record<Writer | 'publisher', (name: string) => Message>> = {
  songwriter: (name) => msg('{name} (songwriter)', { name }),
  composer: (name) => msg('{name} (composer)', { name }),
  arranger: (name) => msg('{name} (arranger)', { name }),
  lyricist: (name) => msg('{name} (lyricist)', { name }),
  publisher: (name) => msg('{name} (publisher)', { name }),
};

const ADVISORIES: Readonly<Record<string, Message>> = { explicit: msg('explicit'), clean: msg('clean') };

/** The sheet for print. */
export const labelPaper = (
  { title, performer, facts, tracks }: LabelCopy,
  language: ReaderLanguage = 'en',
): Paper => ({
  ...{ language, title, author: performer, kind: msg('Label copy'), facts, notes: [] },
  columns: [
    { name: msg('No.'), share: 6, isNumber: false },
    { name: msg('Title'), share: 27, isNumber: false },
    { name: msg('Performer'), share: 19, isNumber: false },
    { name: msg('Credits'), share: 24, isNumber: false },
    { name: msg('ISRC'), share: 15, isNumber: false },
    { name: msg('Length'), share: 9, isNumber: true },
  ],
  rows: tracks.map((track) => ({
    cells: [
      track.position,
      titleCell(track),
      track.performer,
      joined(
        [
          ...track.writers.map(([role, name]) => CREDITS[role](name)),
          ...(track.publisher ? [CREDITS.publisher(track.publisher)] : []),
        ],
        '\n',
      ),
      track.isrc,
      track.length,
    ],
  })),
});

function titleCell({ title, advisory }: LabelTrack): PaperText {
  const shown = title || msg('Untitled');
  return advisory ? joined([shown, ADVISORIES[advisory] ?? advisory], ' · ') : shown;
}
