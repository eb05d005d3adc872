import type { Coding, ContainerTag, Chapter, EmbeddedPicture } from '@oiseau/codings';
import type { Measurer } from '@oiseau/audio/measure';
import type { WordFormat, ByteSink, ByteSource } from '@oiseau/audio/pcm';
import type { Paper } from '@oiseau/formats/disc';
import type { Made } from './proof-file.js';
import type { ProgrammeOrder, Stretches } from './stretches.js';

/** A file being written. */
export interface FileSink extends ByteSink {
  /** Resolves when every byte is in the file. */
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
  readonly hasPicture: boolean;
  /** In seconds. */
  readonly chapters: readonly { readonly start: number; readonly title: string }[];
  /** Interleaved little-endian stereo words, whole samples at a time; mono is on both sides. */
  words(): AsyncIterable<Uint8Array>;
}

export type DigestAlgorithm = 'sha256' | 'md5';

/** A running checksum. */
export interface Hasher {
  update(bytes: Uint8Array): void;
  /** Lower-case hexadecimal. */
  digest(): string;
}

/** What an encoder is asked for. */
export interface EncoderOrder {
  readonly coding: Exclude<Coding, 'wav' | 'aiff'>;
  readonly rate: number;
  /** Of the interleaved little-endian stereo words that it is given. */
  readonly format: WordFormat;
  readonly bitrate: number | null;
  readonly quality: number | null;
  /** Samples of one channel that it will be given. */
  readonly length: number;
  /** FLAC: bytes to leave for what is written into its head afterwards. */
  readonly headBytes: number;
  /** M4A: chapters, in seconds; none: a file of one track. */
  readonly chapters: readonly Chapter[];
}

/** What a render needs of the outside world. Paths are relative to the deliverable's folder. */
export interface RenderPorts {
  createFile(path: string): Promise<FileSink>;
  openFile(path: string): Promise<ByteSource>;
  /** Writes over bytes of a finished file. */
  patch(path: string, at: number, bytes: Uint8Array): Promise<void>;
  encode(path: string, order: EncoderOrder): Promise<FileSink>;
  /** Puts bytes before everything that a finished file holds. */
  prepend(path: string, bytes: Uint8Array): Promise<void>;
  /** Writes tags and a cover into a finished file: the item list of MP4, Vorbis comments of Ogg. */
  tag(
    path: string,
    coding: 'aac' | 'alac' | 'opus' | 'ogg',
    tags: readonly ContainerTag[],
    picture: EmbeddedPicture | null,
  ): Promise<void>;
  /** A decoder of coded files; it shares no code with the encoder's caller. */
  decode(path: string): Promise<AudioStream>;
  /** A sheet for people, as it is printed: the same bytes for the same sheet. */
  paper(paper: Paper): Promise<Uint8Array>;
  /**
   * Who makes stretches of programmes beside the thread that joins them; left out, or null: nobody, it makes them itself. Nothing is asked of it
   * once the render is written.
   */
  readonly stretches?: (programmes: Readonly<Record<string, ProgrammeOrder>>) => Stretches | null;
  /** Who measures beside the thread that reads; left out: that one does it itself. */
  readonly measurer?: Measurer;
  /** What renders here. */
  made(): Promise<Made>;
  /** CRC-32 of ISO 3309, 8 digits. */
  crc32(): Hasher;
  /** The checksum of a finished file, in lower-case hexadecimal; nothing is written to a file once it was asked for. */
  digest(path: string, algorithm: DigestAlgorithm): Promise<string>;
}

/** Reports work done; may throw to end it (a stop asked for by a person). */
export type Progress = (doneSeconds: number) => void | Promise<void>;
