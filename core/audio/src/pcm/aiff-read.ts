import { msg } from '@oiseau/messages';
import { WORD_BYTES, type WordFormat } from './block.js';
import { ByteReader, type ByteOrder, type ByteSource } from './bytes.js';
import { chunksOf } from './iff-chunks.js';
import { admitPcm, demandChannels, demandRate, type DeclaredPcm, type PcmInfo } from './pcm-file.js';
import { AudioRefused } from './refusal.js';

/** AIFC codings that are plain words, whatever their order. */
const CODINGS: Readonly<Record<string, { readonly order: ByteOrder; readonly float: boolean }>> = {
  NONE: { order: 'big', float: false },
  twos: { order: 'big', float: false },
  in24: { order: 'big', float: false },
  in32: { order: 'big', float: false },
  sowt: { order: 'little', float: false },
  fl32: { order: 'big', float: true },
  FL32: { order: 'big', float: true },
  fl64: { order: 'big', float: true },
  FL64: { order: 'big', float: true },
};

/**
 * Reads the header of an AIFF or AIFC file (EA IFF 85): COMM may stand before or behind SSND. Only words that are no
 * coding are read.
 * @throws AudioRefused with the reason, when the file is not audio that can be used
 */
export async function readAiffInfo(source: ByteSource): Promise<PcmInfo> {
  const head = new ByteReader(await source.read(0, 12), 'big');
  if (head.remaining < 12) throw notAiff();
  if (head.fourCC() !== 'FORM') throw notAiff();
  head.u32();
  const container = head.fourCC();
  if (container !== 'AIFF' && container !== 'AIFC') throw notAiff();
  let common: Common | undefined;
  let dataOffset: number | undefined;
  for await (const { id, body, size } of chunksOf(source, 12, 'big')) {
    if (id === 'COMM') common = readCommon(await source.read(body, Math.min(size, 64)), container);
    if (id === 'SSND') dataOffset = await readSoundOffset(source, body);
    if (common && dataOffset !== undefined) break;
  }
  if (!common)
    throw new AudioRefused('damaged-header', msg('The header is damaged: the “COMM” chunk is missing.'));
  if (dataOffset === undefined)
    throw new AudioRefused('truncated', msg('The file ends before any audio: no “SSND” chunk was found.'));
  // COMM's count of samples is the truth; SSND may be longer by its own blocks.
  const { frames, ...form } = common;
  const dataBytes = frames * WORD_BYTES[form.format] * form.channels;
  return admitPcm({ ...form, container, dataOffset, dataBytes }, source.size);
}

interface Common extends Pick<DeclaredPcm, 'rate' | 'channels' | 'format' | 'order' | 'validBits'> {
  /** Samples of one channel. */
  frames: number;
}

function notAiff(): AudioRefused {
  return new AudioRefused(
    'not-audio',
    msg('This is not an AIFF file: it does not begin with FORM and AIFF.'),
  );
}

function readCommon(bytes: Uint8Array, container: 'AIFF' | 'AIFC'): Common {
  if (bytes.length < (container === 'AIFC' ? 22 : 18))
    throw new AudioRefused('damaged-header', msg('The header is damaged: the “COMM” chunk is cut short.'));
  const reader = new ByteReader(bytes, 'big');
  const channels = reader.u16();
  const frames = reader.u32();
  const bits = reader.u16();
  const rate = readRate(reader);
  const coding = container === 'AIFC' ? reader.fourCC() : 'NONE';
  demandChannels(channels);
  demandRate(rate);
  const known = CODINGS[coding];
  if (!known) {
    throw new AudioRefused(
      'unsupported-words',
      msg('AIFC coding “{text}” isn’t supported; integer PCM and float are.', { text: coding.trim() }),
    );
  }
  const format = wordFormat(bits, known.float);
  if (!format) {
    throw new AudioRefused(
      'unsupported-words',
      msg('{bits}-bit samples aren’t supported; 16, 24 and 32-bit integer and 32 and 64-bit float are.', {
        bits,
      }),
    );
  }
  return { rate, channels, format, order: known.order, validBits: bits, frames };
}

function readRate(reader: ByteReader): number {
  try {
    return Math.round(reader.f80());
  } catch (cause) {
    throw new AudioRefused('damaged-header', msg('The header is damaged: its sample rate isn’t a number.'), {
      cause,
    });
  }
}

/** Words are as many whole bytes as their bits need (20 bits lie in 24), the valid bits at the top. */
function wordFormat(bits: number, float: boolean): WordFormat | undefined {
  if (float) return bits === 32 ? 'float32' : bits === 64 ? 'float64' : undefined;
  if (bits > 8 && bits <= 16) return 'int16';
  if (bits > 16 && bits <= 24) return 'int24';
  return bits > 24 && bits <= 32 ? 'int32' : undefined;
}

/** Where the first sample lies: SSND begins with an offset and a block size that files leave at 0. */
async function readSoundOffset(source: ByteSource, body: number): Promise<number> {
  const bytes = await source.read(body, 8);
  if (bytes.length < 8)
    throw new AudioRefused(
      'truncated',
      msg('The file ends before any audio: its “SSND” chunk is cut short.'),
    );
  return body + 8 + new ByteReader(bytes, 'big').u32();
}
