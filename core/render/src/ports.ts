import type { FilePorts } from '@oiseau/codings';
import type { Measurer } from '@oiseau/audio/measure';
import type { Paper } from '@oiseau/formats/disc';
import type { ReaderLanguage, Translator } from '@oiseau/messages';
import type { Made } from './proof-file.js';
import type { ProgrammeOrder, Stretches } from './stretches.js';

export type DigestAlgorithm = 'sha256' | 'md5';

/** A running checksum. */
export interface Hasher {
  update(bytes: Uint8Array): void;
  /** Lower-case hexadecimal. */
  digest(): string;
}

/** What a render needs of the outside world. Paths are relative to the deliverable's folder. */
export interface RenderPorts extends FilePorts {
  /** A sheet for people, as it is printed: the same bytes for the same sheet. */
  paper(paper: Paper): Promise<Uint8Array>;
  /** The translator of a language. */
  readonly translator: (language: ReaderLanguage) => Promise<Translator>;
  /**
   * Renders chunks of programmes in other threads. Left out or null: the joining thread renders them. Unused once the render is written.
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
