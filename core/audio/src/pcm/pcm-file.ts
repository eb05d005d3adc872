import { msg } from '@oiseau/messages';
import {
  CHANNELS,
  silence,
  WORD_BYTES,
  wordBits,
  isInteger,
  type Block,
  type Fetched,
  type PcmSource,
  type WordFormat,
} from './block.js';
import type { ByteOrder, ByteSource } from './bytes.js';
import { SAMPLE_RATES } from './rates.js';
import { AudioRefused } from './refusal.js';
import { decodeInto, decodeWords, encodeWords } from './words.js';

/** What the header of a WAV or AIFF file says of the audio behind it. */
export interface PcmInfo {
  readonly container: 'RIFF' | 'RF64' | 'BW64' | 'AIFF' | 'AIFC';
  readonly rate: number;
  /** 1 or 2. */
  readonly channels: number;
  readonly format: WordFormat;
  readonly order: ByteOrder;
  /** Meaningful bits of a word as the header declares them (20 in a 24-bit word, say). */
  readonly validBits: number;
  /** Length in samples of one channel. */
  readonly length: number;
  readonly dataOffset: number;
}

/** Bytes from the start of the file to the end of its audio: all that a reader ever asks for. */
export function pcmFileBytes({ dataOffset, length, format, channels }: PcmInfo): number {
  return dataOffset + length * WORD_BYTES[format] * channels;
}

/** What a header declares, before it is held against the file. */
export interface DeclaredPcm extends Omit<PcmInfo, 'length'> {
  /** Bytes of audio. */
  readonly dataBytes: number;
}

/**
 * Holds a header against what the product reads and what the file has.
 * @throws AudioRefused for channels, rates and lengths that can't be used, and where audio that was promised is missing
 */
export function admitPcm({ dataBytes, ...declared }: DeclaredPcm, fileSize: number): PcmInfo {
  const { rate, channels, format, validBits, dataOffset } = declared;
  demandChannels(channels);
  demandRate(rate);
  const present = fileSize - dataOffset;
  if (present < dataBytes) {
    const percent = Math.max(0, Math.floor((100 * present) / dataBytes));
    throw new AudioRefused(
      'truncated',
      msg(
        'The file is truncated: its header announces {dataBytes} bytes of audio, {value} are present ({percent} %).',
        { dataBytes, value: Math.max(0, present), percent },
      ),
    );
  }
  const length = Math.floor(dataBytes / (WORD_BYTES[format] * channels));
  if (length === 0)
    throw new AudioRefused('empty', msg('The file contains no audio: its length is 0 samples.'));
  const bits = wordBits(format);
  return { ...declared, validBits: isInteger(format) ? Math.min(validBits || bits, bits) : bits, length };
}

/** @throws AudioRefused unless there are one or two channels */
export function demandChannels(channels: number): void {
  if (channels === 0)
    throw new AudioRefused('damaged-header', msg('The header is damaged: it has no channels.'));
  if (channels > 2)
    throw new AudioRefused(
      'too-many-channels',
      msg('The file has {channels} channels; a master has 2.', { channels }),
    );
}

/** @throws AudioRefused unless the rate is one that is read */
export function demandRate(rate: number): void {
  if (SAMPLE_RATES.some((known) => known === rate)) return;
  throw new AudioRefused(
    'unsupported-rate',
    msg('A sample rate of {rate} Hz isn’t supported; {list} Hz are.', {
      rate,
      list: SAMPLE_RATES.join(', '),
    }),
  );
}

/** The words of a PCM file as a source of stereo audio. Reads only what is asked for. */
export class PcmFileSource implements PcmSource {
  constructor(
    readonly info: PcmInfo,
    readonly bytes: ByteSource,
  ) {}

  get rate(): number {
    return this.info.rate;
  }
  get length(): number {
    return this.info.length;
  }
  get format(): WordFormat {
    return this.info.format;
  }

  async read(start: number, count: number, into?: Block): Promise<Block> {
    const from = Math.max(0, start);
    const to = Math.min(this.length, start + count);
    if (to <= from) return silence(count);
    const { channels, order } = this.info;
    const isWhole = from === start && to === start + count;
    const stored = await this.#stored(from, to);
    const block = decodeWords(stored, this.format, channels, order, isWhole ? into : undefined);
    if (isWhole) return block;
    const padded = silence(count);
    padded.left.set(block.left, from - start);
    padded.right.set(block.right, from - start);
    return padded;
  }

  async fetch(start: number, count: number): Promise<Fetched> {
    const from = Math.max(0, start);
    const to = Math.max(from, Math.min(this.length, start + count));
    const { channels, order } = this.info;
    const bytes = to > from ? await this.#stored(from, to) : new Uint8Array();
    return (machine, { left, right }) => {
      const inside = {
        left: left + 8 * (from - start),
        right: right + 8 * (from - start),
        length: to - from,
      };
      if (to > from && channels === 2 && order === 'little') decodeInto(machine, bytes, this.format, inside);
      else if (to > from) {
        const block = decodeWords(bytes, this.format, channels, order);
        for (const channel of CHANNELS) machine.doubles(inside[channel], to - from).set(block[channel]);
      }
      // After the words: a few samples beyond their end are written over.
      for (const at of [left, right]) {
        const all = machine.doubles(at, count);
        all.fill(0, 0, Math.min(count, from - start));
        all.fill(0, to - start);
      }
    };
  }

  /**
   * Samples `[start, start + count)`, all within the file, as interleaved little-endian stereo words.
   * @param into memory that they may lie in, of as many samples
   */
  async words(start: number, count: number, into?: Uint8Array): Promise<Uint8Array> {
    const { channels, order } = this.info;
    const stored = await this.#stored(start, start + count, into);
    if (channels === 2 && order === 'little') return stored;
    return encodeWords(decodeWords(stored, this.format, channels, order), this.format);
  }

  /** The words of samples `[from, to)` as they lie in the file. */
  async #stored(from: number, to: number, into?: Uint8Array): Promise<Uint8Array> {
    const { channels, dataOffset } = this.info;
    const blockBytes = WORD_BYTES[this.format] * channels;
    const wanted = (to - from) * blockBytes;
    const bytes = await this.bytes.read(dataOffset + from * blockBytes, wanted, into);
    if (bytes.length < wanted) {
      throw new AudioRefused(
        'truncated',
        msg('The audio ends early: {wanted} bytes expected at sample {from}, {count} found.', {
          wanted,
          from,
          count: bytes.length,
        }),
      );
    }
    return bytes;
  }
}
