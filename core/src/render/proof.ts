import { Failure } from '../errors/failure.js';
import { proveAudio } from './files/audio.js';
import type { ProofContext } from './files/file-kind.js';
import { fileKindOf, type PlannedText } from './files/files.js';
import type { Plan } from './planned.js';
import type { Progress, RenderPorts } from './ports.js';
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
    super(`“${path}” was put to no test, so it can’t be proved.`);
  }
}

/**
 * Reads every file of a finished render back and tests it; nothing is written. `progress` gets the seconds of audio read so far.
 * @throws UntestedFile
 */
export async function proveRender(
  plan: Plan,
  written: readonly WrittenAudio[],
  revision: number,
  hasCover: boolean,
  ports: RenderPorts,
  progress: Progress,
): Promise<Proof> {
  const done = written.map(() => 0);
  const context = proofContext(ports);
  const proveOne = async (file: Plan['files'][number]): Promise<ProofFile> => {
    if (file.kind !== 'audio') return proveText(file, context);
    const place = written.findIndex(({ planned }) => planned === file);
    const audio = written[place];
    if (!audio) throw new UntestedFile(file.path);
    return proveAudio(audio, hasCover, ports, (seconds) => {
      done[place] = seconds;
      return progress(done.reduce((sum, each) => sum + each, 0));
    });
  };
  // Two at a time: while one is measured, the next one's decoder gets going, or its checksum is taken.
  const files = await sideBySide(plan.files, 2, proveOne);
  const untested = files.find(({ tests }) => tests.length === 0);
  if (untested) throw new UntestedFile(untested.path);
  const proved = files.every(({ tests }) => tests.every(({ passed }) => passed));
  return { deliverable: plan.deliverable.name, revision, proved, made: await ports.made(), files };
}

function proofContext(ports: RenderPorts): ProofContext {
  const shared = new Map<string, Promise<unknown>>();
  return {
    ports,
    once: <T>(key: string, work: () => Promise<T>): Promise<T> => {
      const known = (shared.get(key) ?? work()) as Promise<T>;
      shared.set(key, known);
      return known;
    },
  };
}

/** A file that holds no audio. */
async function proveText(file: PlannedText, context: ProofContext): Promise<ProofFile> {
  const { path } = file;
  const source = await context.ports.openFile(path);
  const tests = await fileKindOf(file).prove(file, source, context);
  return {
    path,
    bytes: source.size,
    sha256: await context.ports.digest(path, 'sha256'),
    frames: null,
    rate: null,
    samplePeakDbfs: null,
    truePeakDbtp: null,
    integratedLufs: null,
    clippedRuns: null,
    cureDb: null,
    tests,
  };
}
