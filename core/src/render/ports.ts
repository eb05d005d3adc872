import type { TagSet } from '../tags/tag-set.js';
import type { Block, WordFormat } from '../pcm/block.js';
import type { ByteSink, ByteSource } from '../pcm/bytes.js';

/** A file being written. */
export interface FileSink extends ByteSink {
  /** Resolves when every byte is stored. */
  close(): Promise<void>;
  /** Lets go of the file (or the encoder) without finishing it; what was written may stay behind, incomplete. */
  abort(): void | Promise<void>;
}

/** Audio that can only be heard from the start, as a decoder gives it. */
export interface AudioStream {
  readonly rate: number;
  readonly format: WordFormat;
  /** Tags as the decoder reports them, keys in capitals. */
  readonly tags: Readonly<Record<string, string>>;
  blocks(): AsyncIterable<Block>;
}

/** A running SHA-256. */
export interface Hasher {
  update(bytes: Uint8Array): void;
  /** Lower-case hexadecimal. */
  digest(): string;
}

/** What a render needs of the outside world. Paths are relative to the deliverable's folder. */
export interface RenderPorts {
  createFile(path: string): Promise<FileSink>;
  openFile(path: string): Promise<ByteSource>;
  /** Starts an encoder that takes interleaved little-endian words of `format` and writes a coded file. */
  encodeFlac(
    path: string,
    audio: { rate: number; format: 'int16' | 'int24' },
    tags: TagSet,
  ): Promise<FileSink>;
  /** A decoder of coded files; it shares no code with the encoder's caller. */
  decode(path: string): Promise<AudioStream>;
  sha256(): Hasher;
}

/** Reports work done; may throw to end it (a stop asked for by a person). */
export type Progress = (doneSeconds: number) => void | Promise<void>;
