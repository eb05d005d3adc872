import type { Album, Song } from '@oiseau/album/model';
import { titleFromFileName } from '@oiseau/album/edits';
import type { Finding, Rule, TextName } from './finding.js';

const ALBUM_TEXTS = [
  ...(['title', 'performer', 'songwriter', 'composer', 'arranger', 'message', 'label', 'genre'] as const),
  ...(['copyright', 'phonogram'] as const),
];
const TRACK_TEXTS = [
  ...(['title', 'performer', 'songwriter', 'composer', 'arranger', 'message'] as const),
  ...(['lyricist', 'publisher'] as const),
];

/** A text without blanks at its ends and two of them together. */
export const tidyBlanks = (text: string): string => text.trim().replace(/[ \u00a0]{2,}/g, ' ');

/** An underscore, an extension of an audio file, or a number with a sign behind it, as files have them and titles don’t. */
const LIKE_FILE = /_|\.(?:wav|aiff?|flac|mp3|m4a|ogg|opus)$|^\d{1,3}\s*[-–.)]\s*\S/i;

/** A player shows exactly what was typed: no blanks too many, no file names. */
export const textHabits: Rule = ({ album }) => {
  const blanks = (of: Album | Song, fields: readonly TextName[], song: string | null): Finding[] =>
    fields.flatMap((field): Finding[] => {
      const text = (of as Partial<Record<TextName, string>>)[field] ?? '';
      return text === tidyBlanks(text)
        ? []
        : [{ code: 'stray-blanks', severity: 'warning', song, field, text }];
    });
  const titles = album.songs.flatMap(({ id: song, title: text }): Finding[] => {
    const tidy = titleFromFileName(text);
    return LIKE_FILE.test(text.trim()) && tidy !== text
      ? [{ code: 'title-like-file', severity: 'hint', song, text, tidy }]
      : [];
  });
  return [
    ...blanks(album, ALBUM_TEXTS, null),
    ...album.songs.flatMap((song) => blanks(song, TRACK_TEXTS, song.id)),
    ...titles,
  ];
};
