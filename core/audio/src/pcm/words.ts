import { kernels, type Kernels, type Placed } from '../kernels/kernels.js';
import { WORD_BYTES, type Block, type WordFormat } from './block.js';
import type { ByteOrder } from './bytes.js';

/** Whether the machine keeps the low byte of a number first, as WAV does. */
const MACHINE_IS_LITTLE = new Uint8Array(Uint16Array.of(1).buffer)[0] === 1;

/**
 * Interleaved words → a block. `channels` is 1 or 2; one channel goes to both sides at unity.
 * A B-bit word n becomes n / 2^(B−1) (docs/rules.md 3.6).
 * @param into memory that the block may lie in, of as many samples
 */
export function decodeWords(
  bytes: Uint8Array,
  format: WordFormat,
  channels: number,
  order: ByteOrder = 'little',
  into?: Block,
): Block {
  if (!kernels || channels === 1 || order === 'big') return decodeReference(bytes, format, channels, order);
  kernels.begin();
  return kernels.copy(decodePlaced(kernels, bytes, format), into);
}

/** The number by which the kernels know a format. */
export const FORMAT_NUMBER: Readonly<Record<WordFormat, number>> = {
  int16: 0,
  int24: 1,
  int32: 2,
  float32: 3,
  float64: 4,
};

/** Interleaved little-endian stereo words to a block in the memory of the kernels. */
export function decodePlaced(machine: Kernels, bytes: Uint8Array, format: WordFormat): Placed {
  const length = Math.floor(bytes.length / (2 * WORD_BYTES[format]));
  const placed = machine.room(length);
  decodeInto(machine, bytes, format, placed);
  return placed;
}

/** The same into room that was taken before. */
export function decodeInto(
  machine: Kernels,
  bytes: Uint8Array,
  format: WordFormat,
  { left, right, length }: Placed,
): void {
  const at = machine.take(bytes.length);
  machine.bytes(at, bytes.length).set(bytes);
  machine.call.decode(at, length, FORMAT_NUMBER[format], left, right);
}

/** The reference in plain TypeScript, and what words of other forms are read by. */
export function decodeReference(
  bytes: Uint8Array,
  format: WordFormat,
  channels: number,
  order: ByteOrder,
): Block {
  const step = WORD_BYTES[format];
  const length = Math.floor(bytes.length / (step * channels));
  const left = readChannel(bytes, format, order === 'little', 0, step * channels, length);
  return {
    left,
    right:
      channels === 1
        ? left.slice()
        : readChannel(bytes, format, order === 'little', step, step * channels, length),
  };
}

/** Every `stride` bytes a word from `at` on. One loop for each format: a call for each sample would cost as much as all meters. */
function readChannel(
  bytes: Uint8Array,
  format: WordFormat,
  little: boolean,
  at: number,
  stride: number,
  length: number,
): Float64Array {
  const audio = new Float64Array(length);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  switch (format) {
    // Words of two and three bytes are put together at the top of 32 bits, so that the sign comes out by itself.
    case 'int16': {
      // Where the machine's own words lie ready, they are taken as they are.
      if (little && MACHINE_IS_LITTLE && bytes.byteOffset % 2 === 0) {
        const own = new Int16Array(bytes.buffer, bytes.byteOffset, bytes.byteLength >> 1);
        for (let i = 0, n = at >> 1; i < length; i++, n += stride >> 1)
          audio[i] = (own[n] as number) / 0x8000;
        return audio;
      }
      const [low, high] = little ? [0, 1] : [1, 0];
      for (let i = 0; i < length; i++, at += stride)
        audio[i] = (((bytes[at + low] as number) << 16) | ((bytes[at + high] as number) << 24)) / 0x8000_0000;
      return audio;
    }
    case 'int24': {
      const [low, high] = little ? [0, 2] : [2, 0];
      for (let i = 0; i < length; i++, at += stride)
        audio[i] =
          (((bytes[at + low] as number) << 8) |
            ((bytes[at + 1] as number) << 16) |
            ((bytes[at + high] as number) << 24)) /
          0x8000_0000;
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

/** A block → interleaved little-endian stereo words, rounded without dither. @param into memory that they may lie in */
export function encodeWords(
  block: Block,
  format: WordFormat,
  into?: Uint8Array<ArrayBuffer>,
): Uint8Array<ArrayBuffer> {
  if (!kernels) return encodeReference(block, format);
  kernels.begin();
  const { left, right, length } = kernels.place(block);
  const size = 2 * WORD_BYTES[format] * length;
  const at = kernels.take(size);
  kernels.call.encode(left, right, length, FORMAT_NUMBER[format], at);
  return kernels.taken(at, size, into);
}

/** The reference in plain TypeScript: the same words as the kernel makes. */
export function encodeReference(block: Block, format: WordFormat): Uint8Array<ArrayBuffer> {
  const step = WORD_BYTES[format];
  const bytes = new Uint8Array(block.left.length * 2 * step);
  writeChannel(bytes, block.left, format, 0, 2 * step);
  writeChannel(bytes, block.right, format, step, 2 * step);
  return bytes;
}

/** Every `stride` bytes a word from `at` on. One loop for each format: bytes are set one by one, which engines do fastest. */
function writeChannel(
  bytes: Uint8Array,
  audio: Float64Array,
  format: WordFormat,
  at: number,
  stride: number,
): void {
  const { length } = audio;
  switch (format) {
    case 'int16':
      if (MACHINE_IS_LITTLE) {
        const own = new Int16Array(bytes.buffer, bytes.byteOffset, bytes.byteLength >> 1);
        for (let i = 0, n = at >> 1; i < length; i++, n += stride >> 1)
          own[n] = toWord(audio[i] as number, 0x8000);
        return;
      }
      for (let i = 0; i < length; i++, at += stride) {
        const word = toWord(audio[i] as number, 0x8000);
        bytes[at] = word;
        bytes[at + 1] = word >> 8;
      }
      return;
    case 'int24':
      for (let i = 0; i < length; i++, at += stride) {
        const word = toWord(audio[i] as number, 0x80_0000);
        bytes[at] = word;
        bytes[at + 1] = word >> 8;
        bytes[at + 2] = word >> 16;
      }
      return;
    case 'int32':
      for (let i = 0; i < length; i++, at += stride) {
        const word = toWord(audio[i] as number, 0x8000_0000);
        bytes[at] = word;
        bytes[at + 1] = word >> 8;
        bytes[at + 2] = word >> 16;
        bytes[at + 3] = word >> 24;
      }
      return;
    case 'float32':
    case 'float64': {
      const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
      if (format === 'float32')
        for (let i = 0; i < length; i++, at += stride) view.setFloat32(at, audio[i] as number, true);
      else for (let i = 0; i < length; i++, at += stride) view.setFloat64(at, audio[i] as number, true);
      return;
    }
    default:
      return format satisfies never;
  }
}
