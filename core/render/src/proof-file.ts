import { Failure } from '@oiseau/audio/errors';

/** Everything that a rendered file can be tested for. */
export const PROOF_TESTS = [
  'length',
  'rate',
  'samplePeak',
  'audio',
  'null',
  'place',
  'tags',
  'cover',
  'marks',
  'text',
  'codes',
  'flags',
  'checksums',
] as const;

/** One thing a rendered file was tested for after it was read back. */
export interface ProofTest {
  readonly id: (typeof PROOF_TESTS)[number];
  readonly passed: boolean;
  readonly found: string | number | null;
  readonly wanted: string | number | null;
}

export interface ProofFile {
  readonly path: string;
  readonly bytes: number;
  readonly sha256: string;
  /** Samples of one channel, under the name that the file form gives them; null for a file without audio. */
  readonly frames: number | null;
  readonly rate: number | null;
  readonly samplePeakDbfs: number | null;
  readonly truePeakDbtp: number | null;
  readonly integratedLufs: number | null;
  /** Runs of three samples or more at full scale; null for a file without audio. */
  readonly clippedRuns?: number | null;
  /** Of a lossy file whose true peak after decoding is over −1 dBTP: the gain in dB that would cure it; else null. */
  readonly cureDb?: number | null;
  readonly tests: readonly ProofTest[];
}

/** The versions that have made a render: bytes are promised for the same revision by the same versions. */
export interface Made {
  readonly oiseau: string;
  /** null where there was no FFmpeg; plain files need none. */
  readonly ffmpeg: string | null;
}

/** `proof.json` (docs/album-file.md 4). Holds no clock: the same revision gives the same proof. */
export interface Proof {
  readonly deliverable: string;
  readonly revision: number;
  readonly proved: boolean;
  /** Left out in proofs from before it was noted. */
  readonly made?: Made | null;
  readonly files: readonly ProofFile[];
}

/** A file of a plan that nothing was tested of: its kind has no prover worth the name. */
export class UntestedFile extends Failure {
  override readonly name = 'UntestedFile';
  readonly code = 'untested-file';
  readonly status = 500;
  constructor(path: string) {
    super(`“${path}” wasn’t tested, so it can’t be verified.`);
  }
}
