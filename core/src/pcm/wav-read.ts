import {
  isInteger,
  silence,
  WORD_BYTES,
  wordBits,
  type Block,
  type PcmSource,
  type WordFormat,
} from './block.js';
import { ByteReader, type ByteSource } from './bytes.js';
import { AudioRefused } from './refusal.js';
import { decodeWords } from './words.js';

const FORMAT_PCM = 1;
const FORMAT_FLOAT = 3;
const FORMAT_EXTENSIBLE = 0xfffe;
/** The last 14 bytes of a WAVE sub-format GUID; the first two are the format tag. */
const SUBFORMAT_TAIL = '000000001000800000aa00389b71';
/** A 32-bit size that says "see the ds64 chunk" (RF64), or, in plain RIFF, that a streaming writer never knew. */
const SIZE_ELSEWHERE = 0xffff_ffff;

/** Rates that are read, in Hz: each is a whole number of samples to the second's ticks or its double. */
export const SAMPLE_RATES = [
  22_050, 32_000, 44_100, 48_000, 64_000, 88_200, 96_000, 176_400, 192_000, 352_800, 384_000,
] as const;

/** What a WAV header says of the audio behind it. */
export interface WavInfo {
  readonly container: 'RIFF' | 'RF64' | 'BW64';
  readonly rate: number;
  /** 1 or 2. */
  readonly channels: number;
  readonly format: WordFormat;
  /** Meaningful bits of a word as the header declares them (20 in a 24-bit word, say). */
  readonly validBits: number;
  /** Length in samples of one channel. */
  readonly length: number;
  readonly dataOffset: number;
}

/**
 * Reads the header of a WAV, RF64 or BW64 file [EBU Tech 3306]. Chunks of odd length are padded to even;
 * unknown chunks and anything behind the audio are passed over.
 * @throws AudioRefused with the reason, when the file is not audio that can be used.
 */
export async function readWavInfo(source: ByteSource): Promise<WavInfo> {
  if (source.size === 0) throw new AudioRefused('empty', 'The file is empty.');
  const head = new ByteReader(await source.read(0, 12));
  if (head.remaining < 12) throw notWav();
  const container = head.fourCC();
  if (container !== 'RIFF' && container !== 'RF64' && container !== 'BW64') throw notWav();
  head.u32();
  if (head.fourCC() !== 'WAVE') throw notWav();

  let wide: { dataSize: number } | undefined;
  let form: WavForm | undefined;
  for (let at = 12; at + 8 <= source.size;) {
    const chunk = new ByteReader(await source.read(at, 8));
    const id = chunk.fourCC();
    let size = chunk.u32();
    const body = at + 8;
    if (id === 'ds64') wide = readDs64(await source.read(body, 28));
    if (id === 'fmt ') form = readForm(await source.read(body, Math.min(size, 64)));
    if (id === 'data') {
      if (!form)
        throw new AudioRefused(
          'damaged-header',
          'The header is damaged: no “fmt ” chunk stands before the audio.',
        );
      if (size === SIZE_ELSEWHERE) size = wide ? wide.dataSize : source.size - body;
      return wavInfo(container, form, body, size, source.size);
    }
    at = body + size + (size % 2);
  }
  throw new AudioRefused('truncated', 'The file ends before any audio: no “data” chunk was found.');
}

interface WavForm {
  rate: number;
  channels: number;
  format: WordFormat;
  validBits: number;
}

function notWav(): AudioRefused {
  return new AudioRefused(
    'not-audio',
    'This is not a WAV file: it does not begin with RIFF or RF64 and WAVE.',
  );
}

function readDs64(bytes: Uint8Array): { dataSize: number } {
  try {
    const reader = new ByteReader(bytes);
    reader.u64();
    return { dataSize: reader.u64() };
  } catch (cause) {
    throw new AudioRefused('damaged-header', 'The header is damaged: the “ds64” chunk is cut short.', {
      cause,
    });
  }
}

function readForm(bytes: Uint8Array): WavForm {
  if (bytes.length < 16)
    throw new AudioRefused('damaged-header', 'The header is damaged: the “fmt ” chunk is cut short.');
  const reader = new ByteReader(bytes);
  let tag = reader.u16();
  const channels = reader.u16();
  const rate = reader.u32();
  reader.u32();
  const blockAlign = reader.u16();
  const bits = reader.u16();
  let validBits = bits;
  if (tag === FORMAT_EXTENSIBLE) {
    if (reader.remaining < 24)
      throw new AudioRefused('damaged-header', 'The header is damaged: its extension is cut short.');
    reader.u16();
    validBits = reader.u16() || bits;
    reader.u32();
    tag = reader.u16();
    const tail = Array.from(reader.take(14), (byte) => byte.toString(16).padStart(2, '0')).join('');
    if (tail !== SUBFORMAT_TAIL) tag = -1;
  }
  if (channels === 0) throw new AudioRefused('damaged-header', 'The header is damaged: it names no channel.');
  if (channels > 2) throw new AudioRefused('too-many-channels', `${channels} channels; a master has 2.`);
  if (!SAMPLE_RATES.some((known) => known === rate)) {
    throw new AudioRefused(
      'unsupported-rate',
      `${rate} Hz; the rates read are ${SAMPLE_RATES.join(', ')} Hz.`,
    );
  }
  const format = wordFormat(tag, bits);
  if (!format) {
    const found =
      tag === FORMAT_PCM || tag === FORMAT_FLOAT
        ? `${bits}-bit ${tag === FORMAT_FLOAT ? 'float ' : ''}samples`
        : `WAV coding number ${tag}`;
    throw new AudioRefused(
      'unsupported-words',
      `${found}; 16, 24 and 32-bit whole numbers and 32 and 64-bit float are read.`,
    );
  }
  if (blockAlign !== WORD_BYTES[format] * channels) {
    throw new AudioRefused(
      'damaged-header',
      `The header is damaged: ${blockAlign} bytes a sample where ${WORD_BYTES[format] * channels} are due.`,
    );
  }
  return {
    rate,
    channels,
    format,
    validBits: isInteger(format) ? Math.min(validBits, wordBits(format)) : wordBits(format),
  };
}

function wordFormat(tag: number, bits: number): WordFormat | undefined {
  if (tag === FORMAT_PCM)
    return bits === 16 ? 'int16' : bits === 24 ? 'int24' : bits === 32 ? 'int32' : undefined;
  if (tag === FORMAT_FLOAT) return bits === 32 ? 'float32' : bits === 64 ? 'float64' : undefined;
  return undefined;
}

function wavInfo(
  container: WavInfo['container'],
  form: WavForm,
  dataOffset: number,
  dataSize: number,
  fileSize: number,
): WavInfo {
  const blockBytes = WORD_BYTES[form.format] * form.channels;
  const present = fileSize - dataOffset;
  if (present < dataSize) {
    const percent = Math.floor((100 * present) / dataSize);
    throw new AudioRefused(
      'truncated',
      `The file is truncated: its header promises ${dataSize} bytes of audio and ${present} are there (${percent} %).`,
    );
  }
  const length = Math.floor(dataSize / blockBytes);
  if (length === 0) throw new AudioRefused('empty', 'The file holds no audio: its length is 0 samples.');
  return { container, ...form, length, dataOffset };
}

/** A WAV file as a source of stereo audio. Reads only what is asked for. */
export class WavSource implements PcmSource {
  private constructor(
    readonly info: WavInfo,
    readonly bytes: ByteSource,
  ) {}

  /** @throws AudioRefused as `readWavInfo` does. */
  static async open(bytes: ByteSource): Promise<WavSource> {
    return new WavSource(await readWavInfo(bytes), bytes);
  }
  /** For those who know the header already (the player, from the server's record of the master). */
  static of(info: WavInfo, bytes: ByteSource): WavSource {
    return new WavSource(info, bytes);
  }
  get rate(): number {
    return this.info.rate;
  }
  get length(): number {
    return this.info.length;
  }
  get format(): WordFormat {
    return this.info.format;
  }

  async read(start: number, count: number): Promise<Block> {
    const from = Math.max(0, start);
    const to = Math.min(this.length, start + count);
    if (to <= from) return silence(count);
    const blockBytes = WORD_BYTES[this.format] * this.info.channels;
    const wanted = (to - from) * blockBytes;
    const bytes = await this.bytes.read(this.info.dataOffset + from * blockBytes, wanted);
    if (bytes.length < wanted) {
      throw new AudioRefused(
        'truncated',
        `The audio ends early: ${wanted} bytes wanted at sample ${from}, ${bytes.length} found.`,
      );
    }
    const block = decodeWords(bytes, this.format, this.info.channels);
    if (from === start && to === start + count) return block;
    const padded = silence(count);
    padded.left.set(block.left, from - start);
    padded.right.set(block.right, from - start);
    return padded;
  }
}
