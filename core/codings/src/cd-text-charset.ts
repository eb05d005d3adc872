/** Character sets of CD-Text: ISO 8859-1, its ASCII part, or the double-byte characters of MS-JIS [MMC-3 annex J]. */
export const CD_TEXT_CHARSETS = ['iso-8859-1', 'ascii', 'ms-jis'] as const;
export type CdTextCharset = (typeof CD_TEXT_CHARSETS)[number];

/** The byte that names a set in the size packs. */
export const CHARSET_CODE: Record<CdTextCharset, number> = {
  'iso-8859-1': 0x00,
  ascii: 0x01,
  'ms-jis': 0x80,
};

/** Bytes that a character takes, and that a terminator takes. */
export const charBytes = (charset: CdTextCharset): 1 | 2 => (charset === 'ms-jis' ? 2 : 1);

/** A character that a set does not have. */
export interface Misfit {
  /** Place in the text, in UTF-16 code units, and how many of them it takes. */
  readonly at: number;
  readonly length: number;
  readonly char: string;
  /** What could stand there instead; null where nothing is like it. */
  readonly plain: string | null;
}

/**
 * A text in the bytes of a set.
 * @throws RangeError for a character that the set does not have; ask {@link misfits} first
 */
export function encodeCdText(text: string, charset: CdTextCharset): Uint8Array {
  const bytes: number[] = [];
  for (const char of text) {
    const code = codeOf(char, charset);
    if (code === undefined) throw new RangeError(`“${char}” is not in ${charset}.`);
    if (charBytes(charset) === 2) bytes.push(code >> 8);
    bytes.push(code & 0xff);
  }
  return Uint8Array.from(bytes);
}

/** The text that bytes of a set stand for. */
export function decodeCdText(bytes: Uint8Array, charset: CdTextCharset): string {
  if (charset === 'ms-jis') return new TextDecoder('shift_jis').decode(bytes);
  return Array.from(bytes, (byte) => String.fromCharCode(byte)).join('');
}

/** Every character of a text that a set does not have, with a plain form for it. */
export function misfits(text: string, charset: CdTextCharset): Misfit[] {
  const found: Misfit[] = [];
  let at = 0;
  for (const char of text) {
    if (codeOf(char, charset) === undefined)
      found.push({ at, length: char.length, char, plain: plainChar(char, charset) });
    at += char.length;
  }
  return found;
}

/** A text with a plain form for every character that a set does not have, “?” where there is none; the checks see to it that such a text gets onto no disc. */
export function plainText(text: string, charset: CdTextCharset): string {
  return plainChars(text.normalize('NFC'), charset);
}

const plainChars = (text: string, charset: CdTextCharset): string =>
  Array.from(text, (char) =>
    codeOf(char, charset) === undefined ? (plainChar(char, charset) ?? '?') : char,
  ).join('');

/** Signs and letters without a decomposition, in plain ones. */
const PLAIN: Readonly<Record<string, string>> = {
  ...{ '‘': "'", '’': "'", '‚': "'", '“': '"', '”': '"', '„': '"', '«': '"', '»': '"', '‹': "'", '›': "'" },
  ...{ '–': '-', '—': '-', '‐': '-', '‑': '-', '−': '-', '…': '...', '•': '*', '·': '.', '×': 'x', '÷': '/' },
  ...{ '\u00a0': ' ', '\u2009': ' ', '\u202f': ' ', '\u3000': ' ', '\n': ' ', '\r': '', '\t': ' ' },
  ...{ ß: 'ss', ẞ: 'SS', æ: 'ae', Æ: 'AE', œ: 'oe', Œ: 'OE', ø: 'o', Ø: 'O', đ: 'd', Đ: 'D', ð: 'd', Ð: 'D' },
  ...{ þ: 'th', Þ: 'Th', ł: 'l', Ł: 'L', ħ: 'h', Ħ: 'H', ı: 'i', ŋ: 'n', Ŋ: 'N' },
  ...{ '€': 'EUR', '£': 'GBP', '©': '(C)', '®': '(R)', '™': '(TM)', '℗': '(P)', '№': 'No.', '°': 'deg' },
  ...{ '¿': '?', '¡': '!', '†': '+', '¼': '1/4', '½': '1/2', '¾': '3/4', µ: 'u' },
};

/** null where nothing in the set is like it. */
function plainChar(char: string, charset: CdTextCharset): string | null {
  const known = PLAIN[char];
  if (known !== undefined) return isIn(known, charset) ? known : null;
  const bare = char.normalize('NFKD').replace(/\p{M}/gu, '');
  if (bare === char || bare === '') return null;
  const parts = Array.from(bare, (each) => (isIn(each, charset) ? each : plainChar(each, charset)));
  return parts.includes(null) ? null : parts.join('');
}

const isIn = (text: string, charset: CdTextCharset): boolean =>
  Array.from(text).every((char) => codeOf(char, charset) !== undefined);

/** The code of a character in a set; undefined when it has none. */
function codeOf(char: string, charset: CdTextCharset): number | undefined {
  const point = char.codePointAt(0) ?? 0;
  switch (charset) {
    case 'ascii':
      return point >= 0x20 && point <= 0x7e ? point : undefined;
    case 'iso-8859-1':
      return (point >= 0x20 && point <= 0x7e) || (point >= 0xa0 && point <= 0xff) ? point : undefined;
    case 'ms-jis':
      return doubleByteCodes().get(fullWidth(char));
    default:
      return charset satisfies never;
  }
}

/** Latin signs in the width of the Japanese ones: a block in MS-JIS holds characters of two bytes only. */
function fullWidth(char: string): string {
  const point = char.codePointAt(0) ?? 0;
  if (char === ' ') return '\u3000';
  return point > 0x20 && point <= 0x7e ? String.fromCodePoint(point + 0xfee0) : char;
}

let codes: Map<string, number> | undefined;

/** The double-byte characters of MS-JIS and their codes, read off the decoder once. */
function doubleByteCodes(): ReadonlyMap<string, number> {
  if (codes) return codes;
  codes = new Map();
  const decoder = new TextDecoder('shift_jis');
  for (let high = 0x81; high <= 0xfc; high++) {
    if (high > 0x9f && high < 0xe0) continue;
    for (let low = 0x40; low <= 0xfc; low++) {
      const char = decoder.decode(Uint8Array.of(high, low));
      // Some characters stand twice; the first place is the usual one.
      if ([...char].length === 1 && char !== '\ufffd' && !codes.has(char)) codes.set(char, (high << 8) | low);
    }
  }
  return codes;
}
