import type { ByteSource } from '../pcm/bytes.js';
import type { Hasher } from './ports.js';

const STEP = 1 << 20;

/** The checksum of everything that a source holds. */
export async function digestOf(source: ByteSource, hash: Hasher): Promise<string> {
  for (let at = 0; at < source.size; at += STEP) hash.update(await source.read(at, STEP));
  return hash.digest();
}
