import { createHash } from 'node:crypto';
import type { Hasher } from '@oiseau/core';

export function hasher(algorithm: 'sha256' | 'md5'): Hasher {
  const hash = createHash(algorithm);
  return { update: (bytes) => void hash.update(bytes), digest: () => hash.digest('hex') };
}
