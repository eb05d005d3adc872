import { LANGUAGES } from '@oiseau/codings';
import { formatIsrc, parseEan, parseIsrc } from '@oiseau/formats/disc';
import type { Album, Song } from '@oiseau/album/model';
import type { EmbeddedField } from '@oiseau/audio/pcm';
import type { MasterRecord } from '@oiseau/api';
import { t } from '../ui/messages.js';

/** Where the words of a file go in a track, where in the album. */
const OF_TRACK = {
  title: 'title',
  performer: 'performer',
  composer: 'composer',
  lyricist: 'lyricist',
  arranger: 'arranger',
  publisher: 'publisher',
  isrc: 'isrc',
  advisory: 'advisory',
} as const satisfies Partial<Record<EmbeddedField, keyof Song>>;
const OF_ALBUM = {
  album: 'title',
  albumPerformer: 'performer',
  upc: 'upc',
  genre: 'genre',
  label: 'label',
  catalogNumber: 'catalogNumber',
  releaseDate: 'releaseDate',
  copyright: 'copyright',
  phonogram: 'phonogram',
  language: 'language',
} as const satisfies Partial<Record<EmbeddedField, keyof Album>>;

export const FIELD_NAMES: Readonly<Record<EmbeddedField, string>> = {
  title: 'title',
  performer: 'performer',
  album: 'album',
  albumPerformer: 'performer',
  composer: 'composer',
  lyricist: 'lyricist',
  arranger: 'arranger',
  publisher: 'publisher',
  isrc: t('ISRC'),
  upc: t('UPC/EAN'),
  genre: 'genre',
  label: 'label',
  catalogNumber: t('catalogue number'),
  releaseDate: 'date',
  copyright: 'copyright',
  phonogram: t('℗ line'),
  language: 'language',
  advisory: 'advisory',
  comment: 'comment',
};

type Fields = MasterRecord['embedded']['fields'];

/** One word of a file, as the place where it goes would have it. */
export interface FoundWord {
  readonly field: EmbeddedField;
  /** The name of the place: of a field of a song, or of the album. */
  readonly key: string;
  readonly text: string;
}

/** Text of a file as fields take it: codes in their one form, and only when they are right. */
function found(fields: Fields, map: Readonly<Partial<Record<EmbeddedField, string>>>): FoundWord[] {
  return Object.entries(map).flatMap(([name, key]): FoundWord[] => {
    const field = name as EmbeddedField;
    const text = fields[field];
    if (!text) return [];
    const isrc = field === 'isrc' ? parseIsrc(text) : undefined;
    if (field === 'isrc') return isrc ? [{ field, key, text: formatIsrc(isrc) }] : [];
    if (field === 'language') return [{ field, key, text: shortLanguage(text) }];
    if (field === 'advisory')
      return /^(explicit|clean)$/i.test(text) ? [{ field, key, text: text.toLowerCase() }] : [];
    const ean = field === 'upc' ? parseEan(text) : undefined;
    if (field === 'upc') return ean ? [{ field, key, text: ean }] : [];
    return [{ field, key, text }];
  });
}

/** ID3 has languages by three letters; an album has them as BCP 47. */
const shortLanguage = (text: string): string =>
  Object.entries(LANGUAGES).find(([, { iso }]) => iso === text.toLowerCase())?.[0] ?? text;

export const wordsForTrack = (fields: Fields): FoundWord[] => found(fields, OF_TRACK);
export const wordsForAlbum = (fields: Fields): FoundWord[] => found(fields, OF_ALBUM);

/** Those that say something else than what stands there. */
export const newsOf = (of: object, words: readonly FoundWord[]): FoundWord[] =>
  words.filter(({ key, text }) => (of as Record<string, unknown>)[key] !== text);

/** As an edit takes them. */
export const asEdit = (words: readonly FoundWord[]): Record<string, string> =>
  Object.fromEntries(words.map(({ key, text }) => [key, text]));

/** What the files of an album say of it: of each field what most of them say. */
export function agreedForAlbum(all: readonly Fields[]): FoundWord[] {
  const votes = new Map<string, { readonly word: FoundWord; count: number }>();
  for (const fields of all)
    for (const word of wordsForAlbum(fields)) {
      const name = `${word.key} ${word.text}`;
      const known = votes.get(name) ?? { word, count: 0 };
      known.count++;
      votes.set(name, known);
    }
  const best = new Map<string, { readonly word: FoundWord; count: number }>();
  for (const vote of votes.values())
    if (vote.count > (best.get(vote.word.key)?.count ?? 0)) best.set(vote.word.key, vote);
  return [...best.values()].map(({ word }) => word);
}
