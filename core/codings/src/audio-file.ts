import type { DitherKind } from '@oiseau/audio/dsp';
import type { WordFormat } from '@oiseau/audio/pcm';
import type { FileMark } from './flac-blocks.js';
import type { TagSet } from './tag-names.js';

/** A file of audio as its coding needs to know it: two channels of words at one rate, tags and marks. */
export interface AudioFile {
  /** Relative to the folder that the ports write to, with `/` between folders. */
  readonly path: string;
  readonly rate: number;
  /** Words as they go to the container or to the encoder. */
  readonly format: WordFormat;
  readonly dither: DitherKind;
  /** kbit/s; null where it follows from the words, or varies. */
  readonly bitrate: number | null;
  /** Of a variable bit rate, a place in the coding's `qualities`; null at a constant one. */
  readonly quality: number | null;
  /** Samples of one channel. */
  readonly length: number;
  readonly tags: TagSet;
  /** The version of ID3 where the container has such tags. */
  readonly id3: 2.3 | 2.4;
  /** The day of the revision, YYYY-MM-DD, or empty. */
  readonly made: string;
  /** UPC/EAN, where the file can carry one beside its tags; else empty. */
  readonly upc: string;
  /** Marks inside a file of several tracks. */
  readonly marks: readonly FileMark[];
}
