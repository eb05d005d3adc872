import { msg } from '@oiseau/messages';
import { WORD_BYTES, type WordFormat } from './block.js';
import { ByteReader, type ByteSource } from './bytes.js';
import { chunksOf, type Chunk } from './iff-chunks.js';
import { admitPcm, demandChannels, demandRate, PcmFileSource, type PcmInfo } from './pcm-file.js';
import { AudioRefused } from './refusal.js';

const FORMAT_PCM = 1;
const FORMAT_FLOAT = 3;
const FORMAT_EXTENSIBLE = 0xfffe;
/** The last 14 bytes of a WAVE sub-format GUID; the first two are the format tag. */
const SUBFORMAT_TAIL = '000000001000800000aa00389b71';
/** A 32-bit size that says "see the ds64 chunk" (RF64), or, in plain RIFF, that a streaming writer never knew. */
const SIZE_ELSEWHERE = 0xffff_ffff;

/**
 * Reads the header of a WAV, RF64 or BW64 file [EBU Tech 3306]. Chunks of odd length are padded to even;
 * unknown chunks and anything behind the audio are passed over.
 * @throws AudioRefused with the reason, when the file is not audio that can be used.
 */
export async function readWavInfo(source: ByteSource): Promise<PcmInfo> {
  if (source.size === 0) throw new AudioRefused('empty', msg('The file is empty.'));
  const head = new ByteReader(await source.read(0, 12));
  if (head.remaining < 12) throw notWav();
  const container = head.fourCC();
  if (container !== 'RIFF' && container !== 'RF64' && container !== 'BW64') throw notWav();
  head.u32();
  if (head.fourCC() !== 'WAVE') throw notWav();

  let form: WavForm | undefined;
  let wideBytes: number | undefined;
  for await (const { id, body, size } of chunksOf(source, 12, 'little')) {
    if (id === 'ds64') wideBytes = readDs64(await source.read(body, 28));
    if (id === 'fmt ') form = readForm(await source.read(body, Math.min(size, 64)));
    if (id === 'data') {
      if (!form)
        throw new AudioRefused(
          'damaged-header',
          msg('The header is damaged: no “fmt ” chunk precedes the audio.'),
        );
      const dataBytes = size === SIZE_ELSEWHERE ? (wideBytes ?? source.size - body) : size;
      return admitPcm({ container, order: 'little', ...form, dataOffset: body, dataBytes }, source.size);
    }
  }
  throw new AudioRefused('truncated', msg('The file ends before any audio: no “data” chunk was found.'));
}

/** A WAV file as a source of audio. @throws AudioRefused as `readWavInfo` does */
export async function openWav(bytes: ByteSource): Promise<PcmFileSource> {
  return new PcmFileSource(await readWavInfo(bytes), bytes);
}

/** All chunks of a WAV file, those behind the audio included. `info` tells where an audio chunk of RF64 really ends. */
export function wavChunks(source: ByteSource, info: PcmInfo): AsyncGenerator<Chunk> {
  const dataBytes = info.length * WORD_BYTES[info.format] * info.channels;
  return chunksOf(source, 12, 'little', ({ id, size }) => (id === 'data' ? dataBytes : size));
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
    msg('This is not a WAV file: it does not begin with RIFF or RF64 and WAVE.'),
  );
}

/** Bytes of audio. */
function readDs64(bytes: Uint8Array): number {
  try {
    const reader = new ByteReader(bytes);
    reader.u64();
    return reader.u64();
  } catch (cause) {
    throw new AudioRefused('damaged-header', msg('The header is damaged: the “ds64” chunk is cut short.'), {
      cause,
    });
  }
}

function readForm(bytes: Uint8Array): WavForm {
  if (bytes.length < 16)
    throw new AudioRefused('damaged-header', msg('The header is damaged: the “fmt ” chunk is cut short.'));
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
      throw new AudioRefused('damaged-header', msg('The header is damaged: its extension is cut short.'));
    reader.u16();
    validBits = reader.u16() || bits;
    reader.u32();
    tag = reader.u16();
    const tail = Array.from(reader.take(14), (byte) => byte.toString(16).padStart(2, '0')).join('');
    if (tail !== SUBFORMAT_TAIL) tag = -1;
  }
  demandChannels(channels);
  demandRate(rate);
  const format = wordFormat(tag, bits);
  if (!format) {
    const found =
      tag === FORMAT_PCM || tag === FORMAT_FLOAT
        ? `${bits}-bit ${tag === FORMAT_FLOAT ? 'float ' : ''}samples`
        : `WAV coding number ${tag}`;
    throw new AudioRefused(
      'unsupported-words',
      msg('{found} aren’t supported; 16, 24 and 32-bit integer and 32 and 64-bit float are.', { found }),
    );
  }
  if (blockAlign !== WORD_BYTES[format] * channels) {
    throw new AudioRefused(
      'damaged-header',
      msg('The header is damaged: {blockAlign} bytes per sample instead of {expected}.', {
        blockAlign,
        expected: WORD_BYTES[format] * channels,
      }),
    );
  }
  return { rate, channels, format, validBits };
}

function wordFormat(tag: number, bits: number): WordFormat | undefined {
  if (tag === FORMAT_PCM)
    return bits === 16 ? 'int16' : bits === 24 ? 'int24' : bits === 32 ? 'int32' : undefined;
  if (tag === FORMAT_FLOAT) return bits === 32 ? 'float32' : bits === 64 ? 'float64' : undefined;
  return undefined;
}
