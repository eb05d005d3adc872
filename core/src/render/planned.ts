import type { Coding } from '../album/coding.js';
import type { Deliverable } from '../album/deliverable.js';
import type { CueSheet } from '../disc/cue-sheet.js';
import type { DdpDisc } from '../disc/ddp.js';
import type { DitherKind } from '../dsp/dither.js';
import { WORD_BYTES, type WordFormat } from '../pcm/block.js';
import type { FileMark } from '../tags/flac-blocks.js';
import type { TagSet } from '../tags/tag-set.js';
import { ticksToSamples, type Ticks } from '../time/ticks.js';

/** One audio file that will be written: a stretch of the programme at one rate and word. */
export interface PlannedAudio {
  readonly path: string;
  /** `raw`: the words and nothing else. */
  readonly coding: Coding | 'raw';
  readonly rate: number;
  /** Words as they go to the container or to the encoder. */
  readonly format: WordFormat;
  readonly dither: DitherKind;
  /** kbit/s; null where it follows from the words, or varies. */
  readonly bitrate: number | null;
  /** Of MP3 at a variable bit rate, 0 (best) to 9; null at a constant one. */
  readonly quality: number | null;
  /** Absolute times, `[start, end)`. */
  readonly start: Ticks;
  readonly end: Ticks;
  /** Samples of one channel. */
  readonly length: number;
  /** Bytes of audio before any coding. */
  readonly pcmBytes: number;
  readonly tags: TagSet;
  /** UPC/EAN, where the file can carry one beside its tags; else empty. */
  readonly upc: string;
  /** Marks inside a file of several tracks. */
  readonly marks: readonly FileMark[];
  /** Nothing of the album sounds in it. */
  readonly silent: boolean;
}

/** Everything a deliverable will consist of, known before a byte is written. */
export interface Plan {
  readonly deliverable: Deliverable;
  readonly audio: readonly PlannedAudio[];
  /** The cue sheet that goes with an image or a continuous file, and its file's name. */
  readonly sheet: { readonly path: string; readonly cue: CueSheet } | null;
  /** What describes an image to a pressing plant. */
  readonly ddp: DdpDisc | null;
}

export type Stretch = Omit<PlannedAudio, 'length' | 'pcmBytes'>;

export function planned(stretch: Stretch): PlannedAudio {
  const length = ticksToSamples(stretch.end, stretch.rate) - ticksToSamples(stretch.start, stretch.rate);
  return { ...stretch, length, pcmBytes: length * 2 * WORD_BYTES[stretch.format] };
}

/** Usual kbit/s of stereo MP3 at each quality of a variable bit rate. */
const QUALITY_KBIT = [245, 225, 190, 175, 165, 130, 115, 100, 85, 65];

/** How large a file will be: exactly, about (a lossy one), or at the most (packed without loss). */
export function expectedSize(audio: PlannedAudio): {
  readonly bytes: number;
  readonly how: 'exactly' | 'about' | 'at most';
} {
  switch (audio.coding) {
    case 'raw':
      return { bytes: audio.pcmBytes, how: 'exactly' };
    case 'wav':
    case 'aiff':
      return { bytes: audio.pcmBytes, how: 'about' };
    case 'flac':
    case 'alac':
      return { bytes: audio.pcmBytes, how: 'at most' };
    case 'mp3':
    case 'aac':
    case 'opus':
    case 'ogg': {
      const kbit = audio.bitrate ?? QUALITY_KBIT[audio.quality ?? 0] ?? 0;
      return { bytes: Math.round((audio.length / audio.rate) * kbit * 125), how: 'about' };
    }
    default:
      return audio.coding satisfies never;
  }
}
