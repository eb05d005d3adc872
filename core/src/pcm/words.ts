import { WORD_BYTES, wordBits, type Block, type WordFormat } from './block.js';

/**
 * Interleaved little-endian words → a block. `channels` is 1 or 2; one channel goes to both sides at unity.
 * A B-bit word n becomes n / 2^(B−1) (trade.md 3.6).
 */
export function decodeWords(bytes: Uint8Array, format: WordFormat, channels: number): Block {
  const step = WORD_BYTES[format];
  const length = Math.floor(bytes.length / (step * channels));
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const read = wordReader(view, format);
  const left = new Float64Array(length);
  if (channels === 1) {
    for (let i = 0; i < length; i++) left[i] = read(i * step);
    return { left, right: left.slice() };
  }
  const right = new Float64Array(length);
  for (let i = 0, at = 0; i < length; i++, at += 2 * step) {
    left[i] = read(at);
    right[i] = read(at + step);
  }
  return { left, right };
}

function wordReader(view: DataView, format: WordFormat): (at: number) => number {
  switch (format) {
    case 'int16':
      return (at) => view.getInt16(at, true) / 0x8000;
    case 'int24':
      return (at) => (view.getUint16(at, true) + view.getInt8(at + 2) * 0x1_0000) / 0x80_0000;
    case 'int32':
      return (at) => view.getInt32(at, true) / 0x8000_0000;
    case 'float32':
      return (at) => view.getFloat32(at, true);
    case 'float64':
      return (at) => view.getFloat64(at, true);
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
