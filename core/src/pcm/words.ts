import { WORD_BYTES, wordBits, type Block, type WordFormat } from './block.js';
import type { ByteOrder } from './bytes.js';

/**
 * Interleaved words → a block. `channels` is 1 or 2; one channel goes to both sides at unity.
 * A B-bit word n becomes n / 2^(B−1) (trade.md 3.6).
 */
export function decodeWords(
  bytes: Uint8Array,
  format: WordFormat,
  channels: number,
  order: ByteOrder = 'little',
): Block {
  const step = WORD_BYTES[format];
  const length = Math.floor(bytes.length / (step * channels));
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const left = readChannel(view, format, order === 'little', 0, step * channels, length);
  return {
    left,
    right:
      channels === 1
        ? left.slice()
        : readChannel(view, format, order === 'little', step, step * channels, length),
  };
}

/** Every `stride` bytes a word from `at` on. One loop for each format: a call for each sample would cost as much as all meters. */
function readChannel(
  view: DataView,
  format: WordFormat,
  little: boolean,
  at: number,
  stride: number,
  length: number,
): Float64Array {
  const audio = new Float64Array(length);
  switch (format) {
    case 'int16':
      for (let i = 0; i < length; i++, at += stride) audio[i] = view.getInt16(at, little) / 0x8000;
      return audio;
    case 'int24': {
      const [low, high] = little ? [0, 1] : [2, 0];
      for (let i = 0; i < length; i++, at += stride)
        audio[i] = (view.getUint8(at + low) + view.getInt16(at + high, little) * 0x100) / 0x80_0000;
      return audio;
    }
    case 'int32':
      for (let i = 0; i < length; i++, at += stride) audio[i] = view.getInt32(at, little) / 0x8000_0000;
      return audio;
    case 'float32':
      for (let i = 0; i < length; i++, at += stride) audio[i] = view.getFloat32(at, little);
      return audio;
    case 'float64':
      for (let i = 0; i < length; i++, at += stride) audio[i] = view.getFloat64(at, little);
      return audio;
    default:
      return format satisfies never;
  }
}

/**
 * Multiplies by full scale, rounds to the nearest with halves up, and limits to the range; never wraps.
 * @param scale 2^(bits−1)
 */
export function toWord(value: number, scale: number): number {
  const word = Math.floor(value * scale + 0.5);
  return word >= scale ? scale - 1 : word < -scale ? -scale : word;
}

/** A block → interleaved little-endian stereo words, rounded without dither. */
export function encodeWords(block: Block, format: WordFormat): Uint8Array<ArrayBuffer> {
  const step = WORD_BYTES[format];
  const length = block.left.length;
  const bytes = new Uint8Array(length * 2 * step);
  const view = new DataView(bytes.buffer);
  const write = wordWriter(view, format);
  for (let i = 0, at = 0; i < length; i++, at += 2 * step) {
    write(at, block.left[i] ?? 0);
    write(at + step, block.right[i] ?? 0);
  }
  return bytes;
}

function wordWriter(view: DataView, format: WordFormat): (at: number, value: number) => void {
  const scale = 2 ** (wordBits(format) - 1);
  switch (format) {
    case 'int16':
      return (at, value) => view.setInt16(at, toWord(value, scale), true);
    case 'int24':
      return (at, value) => {
        const word = toWord(value, scale);
        view.setInt16(at, word & 0xffff, true);
        view.setInt8(at + 2, word >> 16);
      };
    case 'int32':
      return (at, value) => view.setInt32(at, toWord(value, scale), true);
    case 'float32':
      return (at, value) => view.setFloat32(at, value, true);
    case 'float64':
      return (at, value) => view.setFloat64(at, value, true);
    default:
      return format satisfies never;
  }
}
