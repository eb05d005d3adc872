import { plainText } from './plain-text.js';
import { ByteReader, type ByteSource } from './bytes.js';
import { fieldsFromTags, tagOfField, type EmbeddedField } from './embedded-tags.js';
import { readId3, type Id3Found, type Id3Picture } from './id3-read.js';
import { chunksOf } from './iff-chunks.js';
import type { PcmInfo } from './pcm-file.js';
import { wavChunks } from './wav-read.js';

/** What a master says of itself. It is offered to the person, never used by itself. */
export interface EmbeddedText {
  /** Text by what it means; a field that the file does not have is left out. */
  readonly fields: Readonly<Partial<Record<EmbeddedField, string>>>;
  /** Marks inside the audio in samples, in order, with their names (which may be empty). */
  readonly cues: readonly CuePoint[];
}

export interface CuePoint {
  readonly at: number;
  readonly name: string;
}

export const NO_TEXT: EmbeddedText = { fields: {}, cues: [] };

/** As much of a file's words as is kept: 4,000 characters a field, 10,000 marks, a million characters in all. */
export function boundedText({ fields, cues }: EmbeddedText): EmbeddedText {
  let left = MOST_CHARACTERS;
  const bounded = (value: string): string => {
    const kept = plainText(value.slice(0, MOST_TEXT_BYTES), Math.min(MOST_FIELD, left));
    left -= kept.length;
    return kept;
  };
  return {
    fields: Object.fromEntries(
      Object.entries(fields).flatMap(([field, value]) => {
        const kept = bounded(value);
        return kept === '' ? [] : [[field, kept]];
      }),
    ),
    cues: cues.slice(0, MOST_CUES).map(({ at, name }) => ({ at, name: bounded(name) })),
  };
}

/** Characters of one field and of everything together, and marks, that are taken over. */
const MOST_FIELD = 4000;
const MOST_CHARACTERS = 1_000_000;
const MOST_CUES = 10_000;
/** Bytes of a text that are looked at: more than a field can hold of any script. */
const MOST_TEXT_BYTES = 4 * MOST_FIELD;

/** Text chunks longer than this are no text of people (waveform caches, pictures). */
const MOST_TEXT = 1 << 20;
/** A chunk of tags may hold a picture. */
const MOST_TAG_BYTES = 32 << 20;

type Fields = Partial<Record<EmbeddedField, string>>;

/** LIST INFO of RIFF. (`ISRC` there means the supplier of the source, not the code.) */
const INFO_FIELDS: Readonly<Record<string, EmbeddedField>> = {
  INAM: 'title',
  IART: 'performer',
  IPRD: 'album',
  IMUS: 'composer',
  IGNR: 'genre',
  ICRD: 'releaseDate',
  ICOP: 'copyright',
  ICMT: 'comment',
};

const AIFF_FIELDS: Readonly<Record<string, EmbeddedField>> = {
  NAME: 'title',
  AUTH: 'performer',
  '(c) ': 'copyright',
  ANNO: 'comment',
};

/** Everything that a file of plain words says and shows. */
export interface EmbeddedWords {
  readonly text: EmbeddedText;
  /** By the names that decoders have for them, keys in capitals. */
  readonly tags: Readonly<Record<string, string>>;
  readonly picture: Id3Picture | null;
  /** What the other chunks say by themselves, whatever ID3 says. */
  readonly besideId3: EmbeddedText['fields'];
  /** In seconds: those that are told as such, else its marks. */
  readonly chapters: readonly { readonly start: number; readonly title: string }[];
}

/** The words alone. */
export const readEmbeddedText = async (bytes: ByteSource, info: PcmInfo): Promise<EmbeddedText> =>
  (await readEmbeddedWords(bytes, info)).text;

/**
 * Reads the text, the picture and the cue points of a WAV or AIFF file: `LIST INFO`, `bext` [EBU Tech 3285], the ISRC in `axml`
 * [EBU Tech 3352], `cue ` with its labels; NAME, AUTH, (c), ANNO and MARK; in both an ID3v2 tag in a chunk of its own, which says more than
 * the others and so goes before them. What is damaged is passed over: text is no reason to refuse a master.
 */
export async function readEmbeddedWords(bytes: ByteSource, info: PcmInfo): Promise<EmbeddedWords> {
  const found: Found = { fields: {}, cues: new Map(), names: new Map(), description: '', id3: null };
  const aiff = info.container === 'AIFF' || info.container === 'AIFC';
  const chunks = aiff ? chunksOf(bytes, 12, 'big') : wavChunks(bytes, info);
  for await (const { id, body, size } of chunks) {
    const isId3 = id === 'id3 ' || id === 'ID3 ';
    if (size > (isId3 ? MOST_TAG_BYTES : MOST_TEXT) || !(isId3 ? !found.id3 : isText(id))) continue;
    const content = await bytes.read(body, size);
    if (isId3) {
      found.id3 = readId3(content);
      continue;
    }
    try {
      if (aiff) readAiffChunk(id, content, found);
      else readWavChunk(id, content, found);
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
    }
  }
  const cues = [...found.cues]
    .map(([mark, at]) => ({ at, name: found.names.get(mark) ?? '' }))
    .filter(({ at }) => at >= 0 && at < info.length)
    .sort((a, b) => a.at - b.at);
  const { id3, description } = found;
  const fields = { ...found.fields, ...(id3 && fieldsFromTags(id3.tags)) };
  // Where a tag has a place for a comment, the description tells what it is already known by.
  if (!id3 && description !== '') fields.comment ??= description;
  const text = boundedText({ fields, cues });
  const told = Object.fromEntries(
    Object.entries(text.fields).map(([field, value]) => [tagOfField(field as EmbeddedField), value]),
  );
  const chapters = id3?.chapters.length
    ? id3.chapters
    : text.cues.map(({ at, name }) => ({ start: at / info.rate, title: name }));
  const tags = { ...id3?.tags, ...told };
  return { text, tags, picture: id3?.picture ?? null, besideId3: found.fields, chapters };
}

interface Found {
  /** What `bext` says of the file. */
  description: string;
  id3: Id3Found | null;
  fields: Fields;
  /** Sample by the mark's number, and the marks' names. */
  readonly cues: Map<number, number>;
  readonly names: Map<number, string>;
}

const isText = (id: string): boolean =>
  ['LIST', 'bext', 'axml', 'cue ', 'MARK'].includes(id) || AIFF_FIELDS[id] !== undefined;

function readWavChunk(id: string, content: Uint8Array, found: Found): void {
  const reader = new ByteReader(content);
  if (id === 'LIST') readList(reader, found);
  if (id === 'bext') found.description = text(reader.take(256));
  if (id === 'axml')
    keep(found, 'isrc', /ISRC:\s*([A-Z]{2}-?[A-Z0-9]{3}-?\d{2}-?\d{5})/i.exec(text(content))?.[1]);
  if (id !== 'cue ') return;
  for (let left = reader.u32(); left > 0; left--) {
    const mark = reader.u32();
    reader.take(16);
    found.cues.set(mark, reader.u32());
  }
}

function readList(reader: ByteReader, found: Found): void {
  const kind = reader.fourCC();
  if (kind !== 'INFO' && kind !== 'adtl') return;
  while (reader.remaining >= 8) {
    const id = reader.fourCC();
    const size = reader.u32();
    const content = reader.take(Math.min(size, reader.remaining));
    if (size % 2 && reader.remaining > 0) reader.take(1);
    const field = INFO_FIELDS[id];
    if (kind === 'INFO' && field) keep(found, field, text(content));
    if (kind === 'adtl' && id === 'labl' && content.length >= 4)
      found.names.set(new ByteReader(content).u32(), text(content.subarray(4)));
  }
}

function readAiffChunk(id: string, content: Uint8Array, found: Found): void {
  const field = AIFF_FIELDS[id];
  if (field) keep(found, field, text(content));
  if (id !== 'MARK') return;
  const reader = new ByteReader(content, 'big');
  for (let left = reader.u16(); left > 0; left--) {
    const mark = reader.u16();
    found.cues.set(mark, reader.u32());
    // A Pascal string: its length first, the whole padded to even.
    const length = reader.u8();
    found.names.set(mark, text(reader.take(length)));
    if (length % 2 === 0 && reader.remaining > 0) reader.take(1);
  }
}

/** The first that names a field wins. */
function keep(found: Found, field: EmbeddedField, value: string | undefined): void {
  if (value) found.fields[field] ??= value;
}

/** The first bytes of a text, cut where no character of UTF-8 is cut in two. */
function wholeCharacters(bytes: Uint8Array): Uint8Array {
  if (bytes.length <= MOST_TEXT_BYTES) return bytes;
  let end = MOST_TEXT_BYTES;
  while (end > MOST_TEXT_BYTES - 4 && ((bytes[end] ?? 0) & 0xc0) === 0x80) end--;
  return bytes.subarray(0, end);
}

/** Text up to its NUL: UTF-8 where it is that, else ISO 8859-1, which older writers used. */
function text(bytes: Uint8Array): string {
  const end = bytes.indexOf(0);
  const used = wholeCharacters(end < 0 ? bytes : bytes.subarray(0, end));
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(used).trim();
  } catch {
    return Array.from(used, (byte) => String.fromCharCode(byte))
      .join('')
      .trim();
  }
}
