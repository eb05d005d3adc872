import { msg } from '@oiseau/messages';
import { type Album, type PartSongs, CD_TEXT_FIELDS, type CdTextField, type Song } from '@oiseau/album/model';
import { type CdTextCharset, misfits, plainText, type Misfit, languageCode } from '@oiseau/codings';
import type { CdTextBlock } from './cd-text-packs.js';
import { parseEan } from './ean.js';
import { parseIsrc } from './isrc.js';

/** Genres that a disc can name by a code [MMC-3 annex J]; the place is the code. */
export const CD_TEXT_GENRES = [
  msg('none'),
  msg('not defined'),
  msg('adult contemporary'),
  msg('alternative rock'),
  msg('children’s music'),
  msg('classical'),
  msg('contemporary Christian'),
  msg('country'),
  msg('dance'),
  msg('easy listening'),
  msg('erotic'),
  msg('folk'),
  msg('gospel'),
  msg('hip hop'),
  msg('jazz'),
  msg('Latin'),
  msg('musical'),
  msg('new age'),
  msg('opera'),
  msg('operetta'),
  msg('pop'),
  msg('rap'),
  msg('reggae'),
  msg('rock'),
  msg('rhythm and blues'),
  msg('sound effects'),
  msg('soundtrack'),
  msg('spoken word'),
  msg('world music'),
] as const;

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
 * The blocks of a disc's CD-Text, what does not fit into a character set in its plain form. Empty fields
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
