import { createHash } from 'node:crypto';
import { crc32 } from 'node:zlib';
import type { Hasher } from '@oiseau/core';

export function hasher(algorithm: 'sha256' | 'md5'): Hasher {
  const hash = createHash(algorithm);
  return { update: (bytes) => void hash.update(bytes), digest: () => hash.digest('hex') };
}

/** CRC-32 of ISO 3309: several times as fast as a cryptographic checksum, and enough to find what went wrong by itself. */
export function crc32Hasher(): Hasher {
  let value = 0;
  return {
    update: (bytes) => void (value = crc32(bytes, value)),
    digest: () => value.toString(16).padStart(8, '0'),
  };
}
