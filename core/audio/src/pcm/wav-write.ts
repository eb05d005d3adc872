import { isInteger, WORD_BYTES, wordBits, type WordFormat } from './block.js';
import { ByteWriter, type ByteSink } from './bytes.js';

/** What a plain RIFF file can hold, counted in its 32-bit size field. */
const RIFF_LIMIT = 0xffff_ffff;

/**
 * The header of a stereo WAV file, for a length that is known before the audio is written.
 * Over 4 GiB it becomes RF64 with a `ds64` chunk [EBU Tech 3306]. Float files get the `fact` chunk that
 * every format but plain PCM needs.
 * @param length samples of one channel
 * @param text chunks that stand between the form and the audio, padded to even
 */
export function wavHeader(
  format: WordFormat,
  rate: number,
  length: number,
  text: Uint8Array = new Uint8Array(),
): Uint8Array<ArrayBuffer> {
  const blockBytes = WORD_BYTES[format] * 2;
  const dataBytes = length * blockBytes;
  const float = !isInteger(format);
  const formBytes = float ? 18 : 16;
  // Stereo words of 2, 3, 4 or 8 bytes always make an even number of bytes: no pad byte is ever needed.
  const inner = 4 + (8 + formBytes) + (float ? 12 : 0) + text.length + 8 + dataBytes;
  const wide = inner > RIFF_LIMIT;
  const out = new ByteWriter();
  out
    .latin1(wide ? 'RF64' : 'RIFF')
    .u32(wide ? RIFF_LIMIT : inner)
    .latin1('WAVE');
  if (wide) {
    out
      .latin1('ds64')
      .u32(28)
      .u64(inner + 36)
      .u64(dataBytes)
      .u64(length)
      .u32(0);
  }
  out
    .latin1('fmt ')
    .u32(formBytes)
    .u16(float ? 3 : 1)
    .u16(2)
    .u32(rate)
    .u32(rate * blockBytes)
    .u16(blockBytes)
    .u16(wordBits(format));
  if (float) out.u16(0).latin1('fact').u32(4).u32(Math.min(length, RIFF_LIMIT));
  return out
    .raw(text)
    .latin1('data')
    .u32(wide ? RIFF_LIMIT : dataBytes)
    .done();
}

/**
 * Writes a stereo WAV file whose words come ready made, in order.
 * @throws RangeError from `finish` when more or fewer samples arrived than the header promises.
 */
export class WavWriter {
  #left: number;
  private constructor(
    readonly sink: ByteSink,
    bytes: number,
  ) {
    this.#left = bytes;
  }
  static async begin(
    sink: ByteSink,
    format: WordFormat,
    rate: number,
    length: number,
    text?: Uint8Array,
  ): Promise<WavWriter> {
    await sink.write(wavHeader(format, rate, length, text));
    return new WavWriter(sink, length * WORD_BYTES[format] * 2);
  }
  async write(words: Uint8Array): Promise<void> {
    this.#left -= words.length;
    await this.sink.write(words);
  }
  finish(): void {
    if (this.#left !== 0)
      throw new RangeError(`A WAV file closed with ${this.#left} bytes of audio still promised.`);
  }
}
