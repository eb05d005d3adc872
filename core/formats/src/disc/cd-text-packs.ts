import { msg } from '@oiseau/messages';
import { Failure } from '@oiseau/audio/errors';
import {
  CD_TEXT_CHARSETS,
  type CdTextCharset,
  CHARSET_CODE,
  charBytes,
  decodeCdText,
  encodeCdText,
} from '@oiseau/codings';
import { CD_TEXT_FIELDS, type CdTextField } from '@oiseau/album/model';

/** Pack types of the words [IEC 61866]. */
const TYPES: Record<CdTextField, number> = {
  title: 0x80,
  performer: 0x81,
  songwriter: 0x82,
  composer: 0x83,
  arranger: 0x84,
  message: 0x85,
};
const DISC_ID = 0x86;
const GENRE = 0x87;
const CODES = 0x8e;
const SIZES = 0x8f;

const PACK = 18;
const PAYLOAD = 12;
export const MOST_PACKS = 256;
export const MOST_BLOCKS = 8;

/** One language of the text of a disc [IEC 61866, MMC-3 annex J]. */
export interface CdTextBlock {
  readonly charset: CdTextCharset;
  /** EBU language code: 09 English, 08 German, 69 Japanese … */
  readonly language: number;
  readonly firstTrack: number;
  readonly lastTrack: number;
  /** Only fields with a value; each has a text for the album and one for every track. */
  readonly texts: Readonly<Partial<Record<CdTextField, readonly string[]>>>;
  readonly discId: string;
  /** Code of the genre and words to it; code 0 is none. */
  readonly genre: { readonly code: number; readonly text: string };
  /** UPC/EAN, then each track's ISRC; null when no code is given. */
  readonly codes: readonly string[] | null;
}

/** CD-Text that can't be written or read, in one sentence. */
export class CdTextError extends Failure {
  override readonly name = 'CdTextError';
  readonly code = 'cd-text';
  readonly status = 422;
}

/** CRC of a pack: polynomial 0x1021, start 0, all bits inverted [IEC 61866]. */
export function crc16(bytes: Uint8Array): number {
  let crc = 0;
  for (const byte of bytes) {
    crc ^= byte << 8;
    for (let bit = 0; bit < 8; bit++) crc = ((crc << 1) ^ (crc & 0x8000 ? 0x1021 : 0)) & 0xffff;
  }
  return crc ^ 0xffff;
}

/** One type of packs before they are numbered. */
interface Part {
  readonly type: number;
  readonly charset: CdTextCharset;
  readonly strings: readonly Uint8Array[];
}

function partsOf(block: CdTextBlock): Part[] {
  const { charset, texts, discId, genre, codes } = block;
  const encode = (text: string): Uint8Array => encodeCdText(text, charset);
  // Codes are plain letters in every block, whatever its set.
  const plain = (text: string): Uint8Array => encodeCdText(text, 'ascii');
  const parts: Part[] = CD_TEXT_FIELDS.flatMap((field) => {
    const of = texts[field];
    return of ? [{ type: TYPES[field], charset, strings: of.map(encode) }] : [];
  });
  if (discId !== '') parts.push({ type: DISC_ID, charset: 'ascii', strings: [plain(discId)] });
  if (genre.code !== 0) {
    const bytes = Uint8Array.of(genre.code >> 8, genre.code & 0xff, ...plain(genre.text));
    parts.push({ type: GENRE, charset: 'ascii', strings: [bytes] });
  }
  if (codes) parts.push({ type: CODES, charset: 'ascii', strings: codes.map(plain) });
  return parts;
}

/** Packs that a block takes, with its three size packs; 0 when there is nothing to say. */
export function packCount(block: CdTextBlock): number {
  const counts = partsOf(block).map(({ strings, charset }) => packsFor(strings, charset));
  return counts.length === 0 ? 0 : 3 + counts.reduce((sum, count) => sum + count, 0);
}

function packsFor(strings: readonly Uint8Array[], charset: CdTextCharset): number {
  const bytes = strings.reduce((sum, { length }) => sum + length + charBytes(charset), 0);
  return Math.ceil(bytes / PAYLOAD);
}

/**
 * The packs of all blocks, 18 bytes each; empty when no block says anything.
 * @throws CdTextError when a block takes more than 256 packs, or there are more than 8 blocks
 * @throws RangeError for a character outside of a block's set; ask `misfits` first
 */
export function packCdText(blocks: readonly CdTextBlock[]): Uint8Array {
  const spoken = blocks.filter((block) => packCount(block) > 0);
  if (spoken.length > MOST_BLOCKS)
    throw new CdTextError(msg('{count} languages; CD-Text holds at most 8.', { count: spoken.length }));
  const lasts = spoken.map((block) => packCount(block) - 1);
  const tooLong = lasts.find((last) => last >= MOST_PACKS);
  if (tooLong !== undefined)
    throw new CdTextError(
      msg('The text needs {packs} packs; CD-Text holds {most} per language.', {
        packs: tooLong + 1,
        most: MOST_PACKS,
      }),
    );
  const languages = spoken.map(({ language }) => language);
  const all = spoken.flatMap((block, number) => packBlock(block, number, lasts, languages));
  const bytes = new Uint8Array(all.length * PACK);
  all.forEach((pack, i) => bytes.set(pack, i * PACK));
  return bytes;
}

function packBlock(
  block: CdTextBlock,
  number: number,
  lasts: readonly number[],
  languages: readonly number[],
): Uint8Array[] {
  const parts = partsOf(block);
  const packs: Uint8Array[] = [];
  const add = (type: number, track: number, flags: number, payload: Uint8Array): void => {
    const pack = new Uint8Array(PACK);
    pack.set([type, track, packs.length, flags]);
    pack.set(payload, 4);
    const crc = crc16(pack.subarray(0, 16));
    pack.set([crc >> 8, crc & 0xff], 16);
    packs.push(pack);
  };
  const counts = new Array<number>(16).fill(0);
  for (const part of parts) {
    counts[part.type - 0x80] = packsFor(part.strings, part.charset);
    addPart(part, number, block.firstTrack, add);
  }
  counts[SIZES - 0x80] = 3;
  const { charset, firstTrack, lastTrack } = block;
  const eight = (values: readonly number[]): number[] => Array.from({ length: 8 }, (_, i) => values[i] ?? 0);
  const sizes = [
    [CHARSET_CODE[charset], firstTrack, lastTrack, 0, ...counts.slice(0, 8)],
    [...counts.slice(8), ...eight(lasts).slice(0, 4)],
    [...eight(lasts).slice(4), ...eight(languages)],
  ];
  sizes.forEach((size, i) => add(SIZES, i, number << 4, Uint8Array.from(size)));
  return packs;
}

/** Strings one after the other, each ended by NUL, in packs of 12 bytes; the last is filled with NUL. */
function addPart(
  { type, charset, strings }: Part,
  block: number,
  firstTrack: number,
  add: (type: number, track: number, flags: number, payload: Uint8Array) => void,
): void {
  const width = charBytes(charset);
  const bytes: number[] = [];
  /** For each byte: the string that it belongs to, and how many characters of it come before. */
  const owners: [string: number, position: number][] = [];
  strings.forEach((string, n) => {
    [...string, ...new Array<number>(width).fill(0)].forEach((byte, i) => {
      bytes.push(byte);
      owners.push([n, Math.floor(i / width)]);
    });
  });
  for (let start = 0; start < bytes.length; start += PAYLOAD) {
    const [string = 0, position = 0] = owners[start] ?? [];
    const track = string === 0 ? 0 : firstTrack + string - 1;
    const flags = (width === 2 ? 0x80 : 0) | (block << 4) | Math.min(15, position);
    add(type, track, flags, Uint8Array.from(bytes.slice(start, start + PAYLOAD)));
  }
}

/**
 * Reads packs back, block by block; written apart from `packCdText`, so that one proves the other.
 * @throws CdTextError for a wrong length, checksum, order or size
 */
export function unpackCdText(bytes: Uint8Array): CdTextBlock[] {
  if (bytes.length % PACK !== 0)
    throw new CdTextError(msg('{count} bytes aren’t a whole number of packs.', { count: bytes.length }));
  const packs = Array.from({ length: bytes.length / PACK }, (_, i) =>
    bytes.subarray(i * PACK, (i + 1) * PACK),
  );
  packs.forEach((pack, i) => {
    const kept = ((pack[16] as number) << 8) | (pack[17] as number);
    if (crc16(pack.subarray(0, 16)) !== kept)
      throw new CdTextError(msg('The checksum of pack {i} is wrong.', { i }));
  });
  const blockOf = (pack: Uint8Array): number => ((pack[3] as number) >> 4) & 7;
  const numbers = [...new Set(packs.map(blockOf))];
  return numbers.map((number) =>
    unpackBlock(
      packs.filter((pack) => blockOf(pack) === number),
      number,
    ),
  );
}

function unpackBlock(packs: readonly Uint8Array[], number: number): CdTextBlock {
  packs.forEach((pack, i) => {
    if (pack[2] !== i)
      throw new CdTextError(
        msg('Pack {i} of block {number} is numbered {pack}.', { i, number, pack: pack[2] }),
      );
  });
  const payloads = (type: number): Uint8Array => {
    const found = packs.filter((pack) => pack[0] === type).map((pack) => pack.subarray(4, 16));
    return Uint8Array.from(found.flatMap((payload) => [...payload]));
  };
  const sizes = payloads(SIZES);
  if (sizes.length !== 3 * PAYLOAD)
    throw new CdTextError(msg('Block {number} has no three size packs.', { number }));
  const charset = CD_TEXT_CHARSETS.find((each) => CHARSET_CODE[each] === sizes[0]);
  if (!charset)
    throw new CdTextError(
      msg('Character set {sizes} of block {number} is unknown.', { sizes: sizes[0], number }),
    );
  for (let type = 0x80; type <= SIZES; type++) {
    const told = sizes[4 + type - 0x80];
    const there = packs.filter((pack) => pack[0] === type).length;
    if (told !== there)
      throw new CdTextError(
        msg('Block {number} announces {told} packs of type {value} but has {there}.', {
          number,
          told,
          value: type.toString(16),
          there,
        }),
      );
  }
  const [firstTrack, lastTrack] = [sizes[1] as number, sizes[2] as number];
  const tracks = lastTrack - firstTrack + 1;
  const strings = (type: number, of: CdTextCharset): string[] | undefined => {
    const joined = payloads(type);
    return joined.length === 0 ? undefined : splitStrings(joined, of, tracks + 1);
  };
  const genre = payloads(GENRE);
  return {
    charset,
    language: sizes[28 + number] as number,
    firstTrack,
    lastTrack,
    texts: Object.fromEntries(
      CD_TEXT_FIELDS.flatMap((field) => {
        const found = strings(TYPES[field], charset);
        return found ? [[field, found]] : [];
      }),
    ),
    discId: splitStrings(payloads(DISC_ID), 'ascii', 1)[0] ?? '',
    genre: {
      code: genre.length === 0 ? 0 : ((genre[0] as number) << 8) | (genre[1] as number),
      text: splitStrings(genre.subarray(2), 'ascii', 1)[0] ?? '',
    },
    codes: strings(CODES, 'ascii') ?? null,
  };
}

/** The first `count` strings of joined payloads; each ends with NUL. */
function splitStrings(bytes: Uint8Array, charset: CdTextCharset, count: number): string[] {
  const width = charBytes(charset);
  const found: string[] = [];
  let start = 0;
  for (let at = 0; at + width <= bytes.length && found.length < count; at += width) {
    if (bytes[at] !== 0 || (width === 2 && bytes[at + 1] !== 0)) continue;
    found.push(decodeCdText(bytes.subarray(start, at), charset));
    start = at + width;
  }
  return found;
}
