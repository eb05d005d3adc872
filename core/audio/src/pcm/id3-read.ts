import { ByteReader } from './bytes.js';

/** A picture that lay in a tag. */
export interface Id3Picture {
  readonly mediaType: string;
  readonly bytes: Uint8Array;
}

/** What an ID3v2 tag says. */
export interface Id3Found {
  /** Text by the names that FFmpeg has for it (`TITLE`, `ALBUM_ARTIST`, `TRACK`), user texts by their own; keys in capitals. */
  readonly tags: Readonly<Record<string, string>>;
  /** The front cover, else the first picture. */
  readonly picture: Id3Picture | null;
  /** In seconds, in order [ID3v2 Chapter Frame Addendum]. */
  readonly chapters: readonly { readonly start: number; readonly title: string }[];
}

/** Frames by what they mean; those of ID3v2.2 have three letters. */
const NAMES: Readonly<Record<string, string>> = {
  TIT2: 'TITLE',
  TPE1: 'ARTIST',
  TPE2: 'ALBUM_ARTIST',
  TPE4: 'TPE4',
  TALB: 'ALBUM',
  TRCK: 'TRACK',
  TPOS: 'DISC',
  TDRC: 'DATE',
  TYER: 'DATE',
  TCON: 'GENRE',
  TCOM: 'COMPOSER',
  TEXT: 'TEXT',
  TSRC: 'TSRC',
  TPUB: 'PUBLISHER',
  TCOP: 'COPYRIGHT',
  TPRO: 'PHONOGRAM',
  TLAN: 'LANGUAGE',
  TBPM: 'TBPM',
  TT2: 'TITLE',
  TP1: 'ARTIST',
  TP2: 'ALBUM_ARTIST',
  TAL: 'ALBUM',
  TRK: 'TRACK',
  TPA: 'DISC',
  TYE: 'DATE',
  TCO: 'GENRE',
  TCM: 'COMPOSER',
  TPB: 'PUBLISHER',
  TCR: 'COPYRIGHT',
};

/** Frames of a tag; what has more is no text of people. */
const MOST_FRAMES = 2000;
const FRONT_COVER = 3;
/** Bytes of a text that are looked at: more than a field can hold of any script. */
const MOST_TEXT_BYTES = 16_000;

/** Reads an ID3v2.2, 2.3 or 2.4 tag. What is damaged is passed over; null where it is none. */
export const readId3 = (bytes: Uint8Array): Id3Found | null => passingOver(() => framesOf(bytes));

function framesOf(bytes: Uint8Array): Id3Found | null {
  const head = new ByteReader(bytes, 'big');
  if (String.fromCharCode(...head.take(3)) !== 'ID3') return null;
  const version = head.u8();
  head.u8();
  const flags = head.u8();
  const size = sevens(head.u32());
  if (version < 2 || version > 4) return null;
  let body = head.take(Math.min(size, head.remaining));
  // In 2.4 each frame tells for itself.
  if (flags & 0x80 && version < 4) body = synchronised(body);
  const reader = new ByteReader(body, 'big');
  if (flags & 0x40 && version > 2) {
    const told = reader.u32();
    const extended = version === 4 ? Math.max(0, sevens(told) - 4) : told;
    reader.take(Math.min(extended, reader.remaining));
  }
  const tags: Record<string, string> = {};
  const chapters: { start: number; title: string }[] = [];
  let picture: (Id3Picture & { readonly kind: number }) | null = null;
  for (const { id, content } of frames(reader, version)) {
    if (id === 'APIC' || id === 'PIC') {
      const found = passingOver(() => pictureOf(content, version));
      if (found && (!picture || (found.kind === FRONT_COVER && picture.kind !== FRONT_COVER)))
        picture = found;
    } else if (id === 'CHAP') chapters.push(...(passingOver(() => chapterOf(content, version)) ?? []));
    else keepText(id, content, tags);
  }
  return {
    tags: withDay(tags),
    picture: picture && { mediaType: picture.mediaType, bytes: picture.bytes },
    chapters: chapters.sort((a, b) => a.start - b.start),
  };
}

/** What is damaged of a tag does not take the rest with it. */
function passingOver<T>(read: () => T): T | null {
  try {
    return read();
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}

/** The frames of a tag, or of a frame that holds some; it ends where it is damaged. */
function* frames(reader: ByteReader, version: number): Generator<{ id: string; content: Uint8Array }> {
  const [letters, head] = version === 2 ? [3, 6] : [4, 10];
  for (let count = 0; count < MOST_FRAMES && reader.remaining > head; count++) {
    const id = String.fromCharCode(...reader.take(letters));
    if (!/^[A-Z][A-Z0-9]{2,3}$/.test(id)) break;
    const length =
      version === 2
        ? (reader.u8() << 16) | reader.u16()
        : version === 4
          ? sevens(reader.u32())
          : reader.u32();
    const own = version === 2 ? 0 : reader.u16();
    const content = contentOf(reader.take(Math.min(length, reader.remaining)), own, version);
    if (content && content.length > 0) yield { id, content };
  }
}

/** A chapter, if it has a time; named by the title in it. */
function chapterOf(bytes: Uint8Array, version: number): { start: number; title: string }[] {
  const reader = new ByteReader(bytes.subarray(bytes.indexOf(0) + 1), 'big');
  if (reader.remaining < 16) return [];
  const start = reader.u32() / 1000;
  reader.take(12);
  const texts: Record<string, string> = {};
  for (const { id, content } of frames(reader, version)) keepText(id, content, texts);
  return [{ start, title: texts.TITLE ?? '' }];
}

/** ID3v2.3 keeps the day apart from the year, as DDMM. */
function withDay({ TDAT, ...tags }: Record<string, string>): Record<string, string> {
  const [, day, month] = /^(\d\d)(\d\d)$/.exec(TDAT ?? '') ?? [];
  const { DATE: year = '' } = tags;
  return day !== undefined && /^\d{4}$/.test(year) ? { ...tags, DATE: `${year}-${month}-${day}` } : tags;
}

/** The content of a frame; null where it is packed or locked. */
function contentOf(bytes: Uint8Array, flags: number, version: number): Uint8Array | null {
  if (version === 3) return flags & 0xc0 ? null : flags & 0x20 ? bytes.subarray(1) : bytes;
  if (version !== 4) return bytes;
  if (flags & 0x0c) return null;
  let content = flags & 0x40 ? bytes.subarray(1) : bytes;
  if (flags & 0x01) content = content.subarray(4);
  return flags & 0x02 ? synchronised(content) : content;
}

function keepText(id: string, frame: Uint8Array, tags: Record<string, string>): void {
  const [encoding = 0] = frame;
  const rest = frame.subarray(1);
  if (id === 'TXXX' || id === 'TXX') {
    const [name, value] = twoTexts(rest, encoding);
    const key = name.toUpperCase();
    if (key !== '' && value !== '') tags[key] ??= value;
    return;
  }
  if (id === 'COMM' || id === 'COM') {
    const [description, value] = twoTexts(rest.subarray(3), encoding);
    if (value !== '' && (description === '' || tags.COMMENT === undefined)) tags.COMMENT = value;
    return;
  }
  if (!id.startsWith('T')) return;
  const value = decoded(rest, encoding);
  if (value === '') return;
  const key = NAMES[id] ?? id;
  tags[key] ??= value;
}

function pictureOf(frame: Uint8Array, version: number): (Id3Picture & { kind: number }) | null {
  const reader = new ByteReader(frame, 'big');
  const encoding = reader.u8();
  let mediaType: string;
  if (version === 2) {
    const form = String.fromCharCode(...reader.take(3)).toUpperCase();
    mediaType = form === 'PNG' ? 'image/png' : form === 'JPG' ? 'image/jpeg' : '';
  } else {
    const end = frame.indexOf(0, 1);
    if (end < 0) return null;
    mediaType = String.fromCharCode(...reader.take(end - 1)).toLowerCase();
    reader.u8();
  }
  const kind = reader.u8();
  const rest = frame.subarray(reader.position);
  const { after } = textUpTo(rest, encoding);
  return { kind, mediaType, bytes: rest.subarray(after) };
}

/** A text that ends with its zero, and where what follows begins. */
function textUpTo(bytes: Uint8Array, encoding: number): { end: number; after: number } {
  const wide = encoding === 1 || encoding === 2;
  if (!wide) {
    const end = bytes.indexOf(0);
    return end < 0 ? { end: bytes.length, after: bytes.length } : { end, after: end + 1 };
  }
  for (let at = 0; at + 1 < bytes.length; at += 2)
    if (bytes[at] === 0 && bytes[at + 1] === 0) return { end: at, after: at + 2 };
  return { end: bytes.length, after: bytes.length };
}

function twoTexts(bytes: Uint8Array, encoding: number): [string, string] {
  const { end, after } = textUpTo(bytes, encoding);
  return [decoded(bytes.subarray(0, end), encoding), decoded(bytes.subarray(after), encoding)];
}

const SCRIPTS = ['latin1', 'utf-16le', 'utf-16be', 'utf-8'] as const;

/** Several values of one frame are told with a stroke between them. */
function decoded(all: Uint8Array, encoding: number): string {
  const bytes = all.subarray(0, MOST_TEXT_BYTES);
  const whole = encoding === 1 || encoding === 2 ? bytes.subarray(0, bytes.length & ~1) : bytes;
  // UTF-16 with its byte order mark may stand either way.
  const turned = encoding === 1 && whole[0] === 0xfe && whole[1] === 0xff;
  const script = turned ? 'utf-16be' : SCRIPTS[encoding];
  if (script === undefined) return '';
  const text =
    script === 'latin1'
      ? Array.from(whole, (byte) => String.fromCharCode(byte)).join('')
      : new TextDecoder(script).decode(whole);
  return text
    .split('\0')
    .filter((each) => each !== '')
    .join(' / ')
    .trim();
}

/** Four times seven bits. */
const sevens = (value: number): number =>
  ((value >>> 24) & 0x7f) * 2 ** 21 +
  ((value >>> 16) & 0x7f) * 2 ** 14 +
  ((value >>> 8) & 0x7f) * 2 ** 7 +
  (value & 0x7f);

/** Takes out the zeros that stand behind each 0xFF. */
function synchronised(bytes: Uint8Array): Uint8Array {
  const out = new Uint8Array(bytes.length);
  let length = 0;
  for (let i = 0; i < bytes.length; i++) {
    out[length++] = bytes[i] ?? 0;
    if (bytes[i] === 0xff && bytes[i + 1] === 0) i++;
  }
  return out.subarray(0, length);
}
