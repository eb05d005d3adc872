import { Failure } from '../errors/failure.js';
import { proveAudio } from './files/audio.js';
import type { ProofContext } from './files/file-kind.js';
import { fileKindOf, type PlannedText } from './files/files.js';
import type { Plan, PlannedAudio } from './planned.js';
import type { Progress, RenderPorts } from './ports.js';
import type { WrittenAudio } from './render.js';
import { sideBySide, Turns } from './side-by-side.js';

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

/** Files that are proved at a time: while one is measured, the next one’s decoder gets going, or its checksum is taken. */
const AT_A_TIME = 2;

/** Reads the files of a render back and tests them: those of audio as they become whole, beside the writing. Nothing is written. */
export class Proving {
  readonly #turns = new Turns(AT_A_TIME);
  readonly #audio = new Map<PlannedAudio, Promise<ProofFile>>();
  /** Seconds of each file that were read so far. */
  readonly #read = new Map<PlannedAudio, number>();
  #given = false;

  /** @param progress gets the seconds of audio read so far; it may throw to end it */
  constructor(
    readonly hasCover: boolean,
    readonly ports: RenderPorts,
    readonly progress: Progress,
  ) {}

  /** A file of audio is whole: it is proved as soon as it is its turn. */
  begin(audio: WrittenAudio): void {
    const { planned } = audio;
    const proved = this.#turns.take(() =>
      proveAudio(audio, this.hasCover, this.ports, (seconds) => {
        if (this.#given) throw new Given();
        this.#read.set(planned, seconds);
        return this.progress([...this.#read.values()].reduce((sum, each) => sum + each, 0));
      }),
    );
    // Whoever asks for the proof hears of a failure.
    proved.catch(() => undefined);
    this.#audio.set(planned, proved);
  }

  /**
   * The proof, once everything that the plan lists is there.
   * @throws UntestedFile
   */
  async finish({ files, deliverable }: Plan, revision: number): Promise<Proof> {
    const context = proofContext(this.ports);
    const proofs = await sideBySide(files, AT_A_TIME, async (file): Promise<ProofFile> => {
      const proof = file.kind === 'audio' ? await this.#audio.get(file) : await proveText(file, context);
      if (!proof || proof.tests.length === 0) throw new UntestedFile(file.path);
      return proof;
    });
    const proved = proofs.every(({ tests }) => tests.every(({ passed }) => passed));
    const made = await this.ports.made();
    return { deliverable: deliverable.name, revision, proved, made, files: proofs };
  }

  /** Nobody wants the proof any more; nothing is under way once it has resolved. */
  async giveUp(): Promise<void> {
    this.#given = true;
    await Promise.allSettled(this.#audio.values());
  }
}

/** Ends what nobody waits for. */
class Given extends Error {}

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
  const proving = new Proving(hasCover, ports, progress);
  for (const audio of written) proving.begin(audio);
  try {
    return await proving.finish(plan, revision);
  } finally {
    await proving.giveUp();
  }
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
