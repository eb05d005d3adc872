import type { BextLoudness, ByteSource } from '@oiseau/audio/pcm';
import type { AudioFile } from './audio-file.js';
import type { TagContainer } from './container-tags.js';
import type { AudioStream, Encoder, FilePorts, FileSink } from './file-ports.js';
import type { EmbeddedPicture } from './flac-blocks.js';

/** Limits of a coding, its defaults, and its names. */
export interface CodingFacts {
  /** Extension of its files, which is the format that the album file names. */
  readonly format: string;
  /** The format in a list of formats: “Ogg Vorbis”. */
  readonly formatLabel: string;
  /** The coding by itself: “AAC (M4A)”. */
  readonly label: string;
  /** Whether the decoded audio differs from the input. */
  readonly lossy: boolean;
  /** Bit depths it can hold; a lossy coding has none of its own. */
  readonly bits: readonly (16 | 24 | 32 | 'float')[];
  /** Hz. */
  readonly rates: readonly number[];
  /** kbit/s for stereo; null where the bit rate follows from the words. */
  readonly bitrate: {
    readonly least: number;
    readonly most: number;
    readonly usual: number;
    /** The bit rates that the standard knows; null: any in the range. */
    readonly only: readonly number[] | null;
  } | null;
  /** Usual kbit/s of stereo at each quality of a variable bit rate, the best one first; none: constant only. */
  readonly qualities: readonly number[];
  /** The file type that a cue sheet names for it. */
  readonly cue: 'WAVE' | 'AIFF' | 'MP3';
  /** How its files keep tags; `id3` in the version that a deliverable asks for. */
  readonly tags: Exclude<TagContainer, 'id3v4'>;
  /** The form of loudness tags: ReplayGain 2.0, or R128 [RFC 7845 5.2.1]. */
  readonly loudness: 'replaygain' | 'r128';
  /** How well the size of a file is known before it is written. */
  readonly size: 'about' | 'at most';
}

/** A tag that a file should carry, and the value that a reader found; undefined: none. */
export interface CarriedTag {
  readonly key: string;
  readonly value: string;
  readonly found: string | undefined;
}

/** What a decoder of its own reports of a file. */
export type DecoderReport = Pick<AudioStream, 'tags' | 'hasPicture' | 'chapters'>;

/** A file that a reader of its own has opened. */
export interface OpenedAudio extends Pick<AudioStream, 'rate' | 'format'> {
  /** All words in order. @param room memory that the next ones may use, at least one sample */
  words(room: () => Uint8Array): AsyncIterable<Uint8Array>;
  report(): Promise<DecoderReport>;
}

/** How files of a coding are written, and read back by other code than wrote them. */
export interface CodingFiles {
  /** Opens a file for words: interleaved, little-endian, stereo. */
  open(file: AudioFile, picture: EmbeddedPicture | null, ports: FilePorts): Promise<FileSink>;
  /** Writes tags and cover into a finished file whose container takes them afterwards. */
  readonly tag?: (file: AudioFile, picture: EmbeddedPicture | null, ports: FilePorts) => Promise<void>;
  /** Whether a file has a place for its measured loudness. */
  readonly carriesLoudness?: (file: AudioFile) => boolean;
  /** Writes the measured loudness into a finished file. */
  readonly sealLoudness?: (file: AudioFile, loudness: BextLoudness, ports: FilePorts) => Promise<void>;
  openBack(file: AudioFile, source: ByteSource, ports: FilePorts): Promise<OpenedAudio>;
  /** Every tag that the file should carry, with the value found. */
  carried(file: AudioFile, source: ByteSource, report: DecoderReport): Promise<readonly CarriedTag[]>;
  /** Places of its marks, in samples; null where they are chapters or where it carries none. */
  readonly marks?: (file: AudioFile, source: ByteSource) => Promise<readonly number[] | null>;
  /** FFmpeg's part in it; absent where the file is written by our own code alone. */
  readonly encoder?: Encoder;
}
