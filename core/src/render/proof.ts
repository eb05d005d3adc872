import type { Plan } from './planned.js';
import type { Progress, RenderPorts } from './ports.js';
import { proveAudio } from './prove-audio.js';
import { proveDdp, proveSheet } from './prove-disc.js';
import type { WrittenAudio } from './render.js';
import { sideBySide } from './side-by-side.js';

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
  /** Samples of one channel; null for a file without audio. */
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

/** `proof.json` of album-file.md. Holds no clock: the same revision gives the same proof. */
export interface Proof {
  readonly deliverable: string;
  readonly revision: number;
  readonly proved: boolean;
  readonly files: readonly ProofFile[];
}

/** Reads every file of a finished render back and tests it. `progress` gets the seconds of audio read so far. */
export async function proveRender(
  plan: Plan,
  written: readonly WrittenAudio[],
  revision: number,
  hasCover: boolean,
  ports: RenderPorts,
  progress: Progress,
): Promise<Proof> {
  const done = written.map(() => 0);
  const { sheet, ddp } = plan;
  const parts: (() => Promise<ProofFile | ProofFile[]>)[] = written.map(
    (audio, i) => () =>
      proveAudio(audio, hasCover, ports, (seconds) => {
        done[i] = seconds;
        return progress(done.reduce((sum, each) => sum + each, 0));
      }),
  );
  if (sheet) parts.push(() => proveSheet(sheet.path, sheet.cue, ports));
  if (ddp) parts.push(() => proveDdp(ddp, ports));
  // Two at a time: while one is measured, the next one's decoder gets going, or its checksum is taken.
  const files = (await sideBySide(parts, 2, (part) => part())).flat();
  const proved = files.every(({ tests }) => tests.every(({ passed }) => passed));
  return { deliverable: plan.deliverable.name, revision, proved, files };
}
