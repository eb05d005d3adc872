import type { Album } from '../album/album.js';
import type { PartSongs } from '../album/parts.js';
import { CD_TEXT_FIELDS, type CdTextCharset, type CdTextField } from '../album/text-fields.js';
import type { Song } from '../album/song.js';
import { misfits, plainText, type Misfit } from './cd-text-charset.js';
import type { CdTextBlock } from './cd-text-packs.js';
import { parseEan } from './ean.js';
import { parseIsrc } from './isrc.js';

/** Genres that a disc can name by a code [MMC-3 annex J]; the place is the code. */
export const CD_TEXT_GENRES = [
  'none',
  'not defined',
  'adult contemporary',
  'alternative rock',
  'children’s music',
  'classical',
  'contemporary Christian',
  'country',
  'dance',
  'easy listening',
  'erotic',
  'folk',
  'gospel',
  'hip hop',
  'jazz',
  'Latin',
  'musical',
  'new age',
  'opera',
  'operetta',
  'pop',
  'rap',
  'reggae',
  'rock',
  'rhythm and blues',
  'sound effects',
  'soundtrack',
  'spoken word',
  'world music',
] as const;

/** Language codes of the EBU [Tech 3264 appendix 3] by the language of a BCP 47 tag, with its code of ISO 639-2/B. */
export const CD_TEXT_LANGUAGES: Readonly<
  Record<string, { readonly code: number; readonly iso: string; readonly name: string }>
> = {
  cs: { code: 0x06, iso: 'cze', name: 'Czech' },
  da: { code: 0x07, iso: 'dan', name: 'Danish' },
  de: { code: 0x08, iso: 'ger', name: 'German' },
  en: { code: 0x09, iso: 'eng', name: 'English' },
  es: { code: 0x0a, iso: 'spa', name: 'Spanish' },
  et: { code: 0x0c, iso: 'est', name: 'Estonian' },
  fo: { code: 0x0e, iso: 'fao', name: 'Faroese' },
  fr: { code: 0x0f, iso: 'fre', name: 'French' },
  ga: { code: 0x11, iso: 'gle', name: 'Irish' },
  gd: { code: 0x12, iso: 'gla', name: 'Gaelic' },
  is: { code: 0x14, iso: 'ice', name: 'Icelandic' },
  it: { code: 0x15, iso: 'ita', name: 'Italian' },
  la: { code: 0x17, iso: 'lat', name: 'Latin' },
  lv: { code: 0x18, iso: 'lav', name: 'Latvian' },
  lt: { code: 0x1a, iso: 'lit', name: 'Lithuanian' },
  hu: { code: 0x1b, iso: 'hun', name: 'Hungarian' },
  nl: { code: 0x1d, iso: 'dut', name: 'Dutch' },
  no: { code: 0x1e, iso: 'nor', name: 'Norwegian' },
  nb: { code: 0x1e, iso: 'nob', name: 'Norwegian' },
  pl: { code: 0x20, iso: 'pol', name: 'Polish' },
  pt: { code: 0x21, iso: 'por', name: 'Portuguese' },
  ro: { code: 0x22, iso: 'rum', name: 'Romanian' },
  sk: { code: 0x25, iso: 'slo', name: 'Slovak' },
  sl: { code: 0x26, iso: 'slv', name: 'Slovenian' },
  fi: { code: 0x27, iso: 'fin', name: 'Finnish' },
  sv: { code: 0x28, iso: 'swe', name: 'Swedish' },
  tr: { code: 0x29, iso: 'tur', name: 'Turkish' },
  ja: { code: 0x69, iso: 'jpn', name: 'Japanese' },
};

/** The EBU code of a BCP 47 language tag; English where it has none. */
export const languageCode = (tag: string): number =>
  (CD_TEXT_LANGUAGES[tag.toLowerCase().split('-')[0] ?? ''] ?? CD_TEXT_LANGUAGES.en)?.code ?? 0x09;

/** Fields that a track leaves to the album when it has no text of its own; a title or a message is never inherited. */
const INHERITED: ReadonlySet<CdTextField> = new Set(['performer', 'songwriter', 'composer', 'arranger']);

/** The words of one language as the disc will hold them, before any plain form: the album's first, then each track's. */
export interface CdTextWords {
  readonly charset: CdTextCharset;
  readonly language: number;
  readonly texts: Readonly<Record<CdTextField, readonly string[]>>;
}

/** What CD-Text needs of a disc. */
export type DiscWords = Pick<PartSongs, 'tracks' | 'title' | 'upc'>;

/** The words of the album's language, and of the second one where there is one. A disc with a title of its own says that. */
export function cdTextWords(album: Album, disc: DiscWords): CdTextWords[] {
  const ofDisc = { ...album, title: disc.title };
  const first = wordsOf(disc, album.cdTextCharset, album.language, (field, track) =>
    track === null ? ofDisc[field] : track[field],
  );
  const { secondLanguage } = album;
  if (!secondLanguage) return [first];
  const second = wordsOf(
    disc,
    secondLanguage.charset,
    secondLanguage.language,
    (field, track) => (track === null ? secondLanguage.words : track.secondWords)[field] ?? '',
  );
  return [first, second];
}

function wordsOf(
  disc: DiscWords,
  charset: CdTextCharset,
  language: string,
  textOf: (field: CdTextField, track: Song | null) => string,
): CdTextWords {
  const own = (field: CdTextField): string[] => {
    const all = textOf(field, null);
    const each = disc.tracks.map((track) => textOf(field, track));
    return [all, ...each.map((text) => text || (INHERITED.has(field) ? all : ''))].map(oneLine);
  };
  const texts = {
    title: own('title'),
    performer: own('performer'),
    songwriter: own('songwriter'),
    composer: own('composer'),
    arranger: own('arranger'),
    message: own('message'),
  };
  return { charset, language: languageCode(language), texts };
}

/** A player has one line: breaks and tabs are blanks there. */
const oneLine = (text: string): string => text.replace(/[\r\n\t]+/g, ' ').trim();

/** A text of the disc with characters that its set does not have. */
export interface UnfitText {
  /** 0: the album's language, 1: the second. */
  readonly block: number;
  readonly field: CdTextField | 'genre' | 'catalogNumber';
  /** The id of the song; null for the album. */
  readonly song: string | null;
  readonly text: string;
  /** Of the set that it must fit into. */
  readonly charset: CdTextCharset;
  readonly misfits: readonly Misfit[];
}

/** Words of the album beside the fields: whatever its languages are, they are in ASCII. */
const IN_ASCII = ['genre', 'catalogNumber'] as const;

/** Every text that does not fit into its character set; an inherited one counts once, for the album. */
export function unfitTexts(album: Album, disc: DiscWords): UnfitText[] {
  const beside = IN_ASCII.flatMap((field): UnfitText[] => {
    const found = misfits(album[field], 'ascii');
    const common = { block: 0, field, song: null, text: album[field], charset: 'ascii' } as const;
    return found.length === 0 ? [] : [{ ...common, misfits: found }];
  });
  const fields = cdTextWords(album, disc).flatMap(({ charset, texts }, block) =>
    CD_TEXT_FIELDS.flatMap((field) =>
      texts[field].flatMap((text, place): UnfitText[] => {
        if (place > 0 && INHERITED.has(field) && text === texts[field][0]) return [];
        const found = misfits(text, charset);
        return found.length === 0
          ? []
          : [{ block, field, song: disc.tracks[place - 1]?.id ?? null, text, charset, misfits: found }];
      }),
    ),
  );
  return [...fields, ...beside];
}

/**
 * The blocks of a disc's CD-Text, what does not fit into a character set in its plain form. Fields that nobody filled
 * in are left out; a field that one track has is there for all (docs/rules.md 7.2). Empty when there is nothing to say.
 */
export function cdTextBlocks(album: Album, disc: DiscWords): CdTextBlock[] {
  const isrcs = disc.tracks.map(({ isrc }) => parseIsrc(isrc) ?? '');
  const codes = [parseEan(disc.upc) ?? '', ...isrcs];
  const common = {
    firstTrack: 1,
    lastTrack: disc.tracks.length,
    discId: plainText(album.catalogNumber, 'ascii'),
    genre: { code: album.genreCode, text: plainText(album.genre, 'ascii') },
    codes: codes.some((code) => code !== '') ? codes : null,
  };
  return cdTextWords(album, disc).map(({ charset, language, texts }) => ({
    ...common,
    charset,
    language,
    texts: Object.fromEntries(
      CD_TEXT_FIELDS.filter((field) => texts[field].some((text) => text !== '')).map((field) => [
        field,
        texts[field].map((text) => plainText(text, charset)),
      ]),
    ),
  }));
}
