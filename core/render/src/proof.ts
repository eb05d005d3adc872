import { proveAudio } from './files/audio.js';
import type { ProofContext } from './files/file-kind.js';
import { UntestedFile, type Proof, type ProofFile } from './proof-file.js';
import { fileKindOf, type PlannedText } from './files/files.js';
import type { Plan, PlannedAudio } from './planned.js';
import type { Progress, RenderPorts } from './ports.js';
import type { WrittenAudio } from './render-input.js';
import { sideBySide, Turns } from './side-by-side.js';

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
    // A failure is reported to the caller that awaits the proof.
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

  /** Abandons the proof; resolves when nothing is running. */
  async giveUp(): Promise<void> {
    this.#given = true;
    await Promise.allSettled(this.#audio.values());
  }
}

/** Ends abandoned work. */
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
