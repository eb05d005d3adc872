import type { ByteSource } from '../pcm/bytes.js';
import type { RenderPorts } from './ports.js';
import type { ProofFile, ProofTest } from './proof.js';

type Value = string | number | null;

/** A test that what was found is what was wanted. */
export const equal = (id: ProofTest['id'], found: Value, wanted: Value): ProofTest => ({
  id,
  passed: found === wanted,
  found,
  wanted,
});

/** A file that holds no audio. */
export async function textFile(
  path: string,
  source: ByteSource,
  ports: RenderPorts,
  tests: readonly ProofTest[],
): Promise<ProofFile> {
  return {
    path,
    bytes: source.size,
    sha256: await ports.digest(path, 'sha256'),
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
