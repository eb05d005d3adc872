import { positionOf, trackNumber } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { t } from '../ui/messages.js';

/** A track by its number, or a hidden song, in words; the number is null for that. */
export const numberedName = (number: number | string | null): string =>
  number === null ? t('the hidden track') : t('track {number}', { number });

/** What a song is called in words: “track 3”, of several parts “track 2-03”, “the hidden song”. */
export function songName(parts: readonly Part[], id: string): string {
  const part = parts.find(({ songs }) => songs.some((song) => song.id === id));
  const number = part ? trackNumber(part, id) : null;
  return numberedName(part && number !== null && part.of > 1 ? positionOf(part, number) : number);
}

/** Songs that play a master, each in words, in the order of the album: “track 3”, “track 5 (instrumental)”. */
export const playersOf = (parts: readonly Part[], master: string): string[] =>
  parts.flatMap(({ songs }) =>
    songs.flatMap(({ id, region, alternates }) => {
      const names = Object.keys(alternates).filter((name) => alternates[name]?.master === master);
      const name = songName(parts, id);
      return [
        ...(region.master === master ? [name] : []),
        ...names.map((each) => t('{name} ({each})', { name, each })),
      ];
    }),
  );

/** `track 1, track 2`, `the hidden track, track 4` */
export const playersText = (names: readonly string[]): string => names.join(', ');
