import { msg } from '@oiseau/messages';
import { Failure } from '../errors/failure.js';
import { isInteger, WORD_BYTES, wordBits, type WordFormat } from './block.js';

/** What an AIFF file can hold, counted in 32 bits. */
const AIFF_LIMIT = 0xffff_ffff;

/** A file that its container can't hold, in one sentence. */
export class TooLongForContainer extends Failure {
  override readonly name = 'TooLongForContainer';
  readonly code = 'too-long';
  readonly status = 422;
}

/** A growing big-endian writer of IFF chunks; each is padded to even by construction. */
class IffWriter {
  readonly bytes: number[] = [];
  text(text: string): this {
    for (let i = 0; i < text.length; i++) this.bytes.push(text.charCodeAt(i) & 0xff);
    return this;
  }
  number(value: number, bytes: number): this {
    for (let i = bytes - 1; i >= 0; i--) this.bytes.push(Math.floor(value / 2 ** (8 * i)) % 256);
    return this;
  }
  raw(bytes: Iterable<number>): this {
    for (const byte of bytes) this.bytes.push(byte);
    return this;
  }
  chunk(id: string, body: IffWriter): this {
    this.text(id).number(body.bytes.length, 4).raw(body.bytes);
    if (body.bytes.length % 2) this.bytes.push(0);
    return this;
  }
}

/** What an AIFF file says beside its audio. */
export interface AiffText {
  readonly marks: readonly { readonly at: number; readonly name: string }[];
  /** A whole ID3v2 tag. */
  readonly id3: Uint8Array;
}

/**
 * The head of a stereo AIFF file, or of an AIFF-C one for float words, up to its first sample; what follows are big-endian words.
 * @param length samples of one channel
 * @throws TooLongForContainer over 4 GiB
 */
export function aiffHeader(
  format: WordFormat,
  rate: number,
  length: number,
  { marks, id3 }: AiffText,
): Uint8Array {
  const float = !isInteger(format);
  const form = new IffWriter().text(float ? 'AIFC' : 'AIFF');
  if (float) form.chunk('FVER', new IffWriter().number(0xa280_5140, 4));
  const common = new IffWriter().number(2, 2).number(length, 4).number(wordBits(format), 2);
  extended(common, rate);
  if (float) common.text(format === 'float64' ? 'fl64' : 'fl32').number(0, 2);
  form.chunk('COMM', common);
  if (marks.length > 0) form.chunk('MARK', markers(marks));
  form.chunk('ID3 ', new IffWriter().raw(id3));
  const dataBytes = length * 2 * WORD_BYTES[format];
  const inner = form.bytes.length + 8 + 8 + dataBytes;
  if (inner > AIFF_LIMIT)
    throw new TooLongForContainer(msg('AIFF files are limited to 4 GiB; use WAV or FLAC.'));
  const out = new IffWriter().text('FORM').number(inner, 4);
  out.raw(form.bytes);
  // The audio’s chunk begins with an offset and a block size, both 0.
  out
    .text('SSND')
    .number(8 + dataBytes, 4)
    .number(0, 8);
  return Uint8Array.from(out.bytes);
}

/** An integer rate as the 80-bit number of IEEE 754 that COMM holds. */
function extended(out: IffWriter, value: number): void {
  const exponent = Math.floor(Math.log2(value));
  out
    .number(16_383 + exponent, 2)
    .number(value * 2 ** (31 - exponent), 4)
    .number(0, 4);
}

function markers(marks: readonly { readonly at: number; readonly name: string }[]): IffWriter {
  const out = new IffWriter().number(marks.length, 2);
  marks.forEach(({ at, name }, i) => {
    // A Pascal string: its length first, the whole padded to even.
    const bytes = new TextEncoder().encode(name).subarray(0, 255);
    out
      .number(i + 1, 2)
      .number(at, 4)
      .number(bytes.length, 1);
    for (const byte of bytes) out.bytes.push(byte);
    if (bytes.length % 2 === 0) out.bytes.push(0);
  });
  return out;
}

/** Turns little-endian words of so many bytes around, in place. */
export function swapWords(words: Uint8Array, bytes: number): Uint8Array {
  for (let at = 0; at < words.length; at += bytes) words.subarray(at, at + bytes).reverse();
  return words;
}
