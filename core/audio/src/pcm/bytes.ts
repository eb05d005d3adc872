/** Ports to wherever bytes live: a file, an HTTP range, memory. */
export interface ByteSource {
  /** Total length in bytes. */
  readonly size: number;
  /** Reads `length` bytes from `offset`; fewer only where the source ends before. @param into memory of so many bytes that they may lie in */
  read(offset: number, length: number, into?: Uint8Array): Promise<Uint8Array>;
}

export interface ByteSink {
  /** Appends; resolves when more may be written (back-pressure). From then on their memory may be used for others. */
  write(bytes: Uint8Array): Promise<void>;
}

export function memorySource(bytes: Uint8Array): ByteSource {
  return {
    size: bytes.length,
    read: (offset, length) =>
      Promise.resolve(bytes.subarray(offset, Math.min(offset + length, bytes.length))),
  };
}

/** A sink that keeps everything; for headers and tests, not for audio. */
export class MemorySink implements ByteSink {
  readonly #parts: Uint8Array[] = [];
  write(bytes: Uint8Array): Promise<void> {
    this.#parts.push(bytes);
    return Promise.resolve();
  }
  /** All that was written, in one array. */
  bytes(): Uint8Array<ArrayBuffer> {
    const all = new Uint8Array(this.#parts.reduce((sum, part) => sum + part.length, 0));
    let at = 0;
    for (const part of this.#parts) {
      all.set(part, at);
      at += part.length;
    }
    return all;
  }
}

/** Which end of a number comes first: RIFF's files are little-endian, AIFF's big-endian. */
export type ByteOrder = 'little' | 'big';

/** A checked cursor over bytes in memory. Reading past the end throws a RangeError. */
export class ByteReader {
  readonly #view: DataView;
  readonly #little: boolean;
  position = 0;
  constructor(
    readonly bytes: Uint8Array,
    order: ByteOrder = 'little',
  ) {
    this.#little = order === 'little';
    this.#view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }
  get remaining(): number {
    return this.bytes.length - this.position;
  }
  #advance(count: number): number {
    const at = this.position;
    if (count > this.remaining) throw new RangeError(`${count} bytes wanted, ${this.remaining} left`);
    this.position += count;
    return at;
  }
  u8(): number {
    return this.#view.getUint8(this.#advance(1));
  }
  u16(): number {
    return this.#view.getUint16(this.#advance(2), this.#little);
  }
  u32(): number {
    return this.#view.getUint32(this.#advance(4), this.#little);
  }
  /** 64 bits as a number; a RangeError where the value is not exact in a double. */
  u64(): number {
    const value = this.#view.getBigUint64(this.#advance(8), this.#little);
    if (value > BigInt(Number.MAX_SAFE_INTEGER))
      throw new RangeError(`a 64-bit size of ${value} is out of range`);
    return Number(value);
  }
  /** An 80-bit IEEE 754 extended number, as AIFF stores its rate; a RangeError where it is not finite. */
  f80(): number {
    const at = this.#advance(10);
    const head = this.#view.getUint16(at, false);
    const mantissa = Number(this.#view.getBigUint64(at + 2, false));
    const exponent = (head & 0x7fff) - 16_383 - 63;
    const value = (head & 0x8000 ? -1 : 1) * mantissa * 2 ** exponent;
    if (!Number.isFinite(value)) throw new RangeError('an 80-bit number is not finite');
    return value;
  }
  /** Four characters, as Latin-1. */
  fourCC(): string {
    const at = this.#advance(4);
    return String.fromCharCode(...this.bytes.subarray(at, at + 4));
  }
  take(count: number): Uint8Array {
    const at = this.#advance(count);
    return this.bytes.subarray(at, at + count);
  }
}

/** A growing little-endian writer for headers and small structures. */
export class ByteWriter {
  readonly #bytes: number[] = [];
  get length(): number {
    return this.#bytes.length;
  }
  u16(value: number): this {
    this.#bytes.push(value & 0xff, (value >>> 8) & 0xff);
    return this;
  }
  u32(value: number): this {
    return this.u16(value & 0xffff).u16(Math.floor(value / 0x10000) & 0xffff);
  }
  u64(value: number): this {
    return this.u32(value % 0x1_0000_0000).u32(Math.floor(value / 0x1_0000_0000));
  }
  /** Characters 0–255, one byte each. */
  latin1(text: string): this {
    for (let i = 0; i < text.length; i++) {
      const code = text.charCodeAt(i);
      if (code > 255) throw new RangeError(`“${text.charAt(i)}” does not fit in ISO 8859-1`);
      this.#bytes.push(code);
    }
    return this;
  }
  raw(bytes: Iterable<number>): this {
    for (const byte of bytes) this.#bytes.push(byte);
    return this;
  }
  done(): Uint8Array<ArrayBuffer> {
    return Uint8Array.from(this.#bytes);
  }
}
