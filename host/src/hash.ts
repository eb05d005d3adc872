import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import type { Hasher } from '@oiseau/core';

export function hasher(algorithm: 'sha256' | 'md5'): Hasher {
  const hash = createHash(algorithm);
  return { update: (bytes) => void hash.update(bytes), digest: () => hash.digest('hex') };
}

/** The checksum of a file, in lower-case hexadecimal. */
export async function sumOf(path: string, hash: Hasher): Promise<string> {
  for await (const chunk of createReadStream(path) as AsyncIterable<Buffer>) hash.update(chunk);
  return hash.digest();
}
