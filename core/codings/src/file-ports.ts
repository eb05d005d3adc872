import type { ByteSink, ByteSource, WordFormat } from '@oiseau/audio/pcm';
import type { Chapter } from './chapters.js';
import type { ContainerTag } from './container-tags.js';
import type { EmbeddedPicture } from './flac-blocks.js';

/** A file being written. */
export interface FileSink extends ByteSink {
  /** Resolves when every byte is in the file. */
  close(): Promise<void>;
  /** Closes the file (or the encoder) without finishing it; what was written may stay behind, incomplete. */
  abort(): void | Promise<void>;
}

/** Audio that can only be read from its start, as a decoder gives it. */
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

/** Input of an encoder: interleaved little-endian stereo words. */
export interface EncoderOrder {
  /** Names the coding in an error: “FLAC”. */
  readonly label: string;
  readonly encoder: Encoder;
  readonly rate: number;
  readonly format: WordFormat;
  readonly bitrate: number | null;
  readonly quality: number | null;
  /** Samples of one channel that it will be given. */
  readonly length: number;
  /** FLAC: bytes to leave free in its head for tags that are written afterwards. */
  readonly headBytes: number;
  /** M4A: chapters, in seconds; none: a file of one track. */
  readonly chapters: readonly Chapter[];
}

/** How FFmpeg is called for a coding. */
export interface Encoder {
  /** Options for the audio and the container. */
  options(order: EncoderOrder): readonly string[];
  /** Silent samples of one channel to be encoded after the end; a decoder could not cut the end off without them. */
  readonly tail?: number;
  /** Corrects the first bytes of the finished file in place. @param length samples of one channel */
  readonly head?: { readonly bytes: number; readonly correct: (head: Uint8Array, length: number) => void };
}

/** How files are written and read back. Paths are relative to the folder of the deliverable. */
export interface FilePorts {
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
    container: 'mp4' | 'vorbis',
    tags: readonly ContainerTag[],
    picture: EmbeddedPicture | null,
  ): Promise<void>;
  /** A decoder of coded files; it shares no code with the encoder's caller. */
  decode(path: string): Promise<AudioStream>;
}
