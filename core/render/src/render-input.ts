import type { EmbeddedPicture } from '@oiseau/codings';
import type { Part } from '@oiseau/album/layout';
import type { PlannedAudio } from './planned.js';
import type { SourcesByKey } from './programme.js';

/** The audio behind an album, at hand for rendering. */
export interface RenderInput {
  /** The album laid out. */
  readonly parts: readonly Part[];
  /** Every master that is heard, by the key that regions name it by. */
  readonly masters: SourcesByKey;
  /** The cover as it is embedded; null where there is none. */
  readonly cover: EmbeddedPicture | null;
  /** The cover as a shop takes it: square, with so many pixels a side, RGB. Left out where there is none. */
  readonly picture?: (form: 'jpeg' | 'png', pixels: number) => Promise<Uint8Array>;
}

/** What a written file was made from, for the proof to hold it against. */
export interface WrittenAudio {
  readonly planned: PlannedAudio;
  /** CRC-32 over the words as they went to the container. */
  readonly wordsCrc32: string;
  /** Highest magnitude that was written, linear. */
  readonly samplePeak: number;
  /** Null test: the largest difference of a written word to the programme, linear. */
  readonly residual: number;
  /** Of floats: each written word is the one nearest to the programme. */
  readonly isNearest: boolean;
  /** Power of each CD frame of a lossy file, to find what its decoder gives back in its place; else empty. */
  readonly envelope: Float64Array;
}
