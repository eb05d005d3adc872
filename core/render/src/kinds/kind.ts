import type { Message } from '@oiseau/messages';
import {
  type Album,
  alternateOf,
  MAIN,
  sequenceOfAlternate,
  type Deliverable,
  type Song,
} from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import type { PlannedFile } from '../planned.js';
import type * as z from '@oiseau/audio/z';

/** What a plan is made from. */
export interface PlanContext {
  readonly album: Album;
  /** The album laid out. */
  readonly parts: readonly Part[];
  /** By the key that regions name them by. */
  readonly masters: ReadonlyMap<string, { readonly rate: number }>;
  /** Name of the edition that `album` and `parts` are of; left out or empty: the album has none. */
  readonly edition?: string;
  readonly revision: number;
  /** The day on which the revision was made, YYYY-MM-DD; empty: unknown. */
  readonly revisionDate: string;
}

/** A kind of deliverable: everything that the rest of the program asks of one. */
export interface Kind<D extends Deliverable> {
  /** What a person can set of it. */
  readonly settings: z.ZodType<D>;
  /** Every file that it will write; how those are written and proved is the matter of each kind of file (`files/`). */
  plan(deliverable: D, context: PlanContext): PlannedFile[];
  /** What it is, in a few words: “FLAC for each track”. */
  words(deliverable: D): Message;
  /** How its audio is kept: “24 bit, 48 kHz”. */
  form(deliverable: D): Message;
}

/**
 * The same album as one of its recordings is told and heard: a song that has it plays it, says so in its title, and has no ISRC, which is the
 * master’s alone [ISO 3901]. Everything else is shared.
 */
export function asRecording(context: PlanContext, name: string): PlanContext {
  if (name === MAIN) return context;
  const told = (song: Song): Song =>
    alternateOf(song, name) ? { ...song, title: `${song.title} (${name})`.trim(), isrc: '' } : song;
  const { album, parts } = context;
  return {
    ...context,
    album: { ...album, songs: album.songs.map(told) },
    parts: parts.map((part) => ({
      ...part,
      songs: part.songs.map(told),
      tracks: part.tracks.map(told),
      sequence: sequenceOfAlternate(part, name),
    })),
  };
}

/** The folder of a part within a deliverable, with `/` behind it; empty where the album has only one. */
export const partFolder = ({ of, name }: Part): string => (of > 1 ? `${name}/` : '');

/** The name of the part that a file of a render belongs to, by its path: `disc-1`, `side-A`; null where it is one of all. */
export const partOfPath = (path: string): string | null =>
  /(?:^|-)((?:disc-\d+|side-[A-Z]+))(?:\/|\.[a-z0-9]+$)/.exec(path)?.[1] ?? null;
