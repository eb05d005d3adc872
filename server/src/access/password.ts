import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import pLimit from 'p-limit';

/** Words that people choose are few: each try costs 16 MB and some 50 ms (RFC 7914, N = 2¹⁴, r = 8, p = 1). */
const BYTES = 32;

/** Node.js reads files with the same four threads: at most two of them derive keys at a time. */
const deriving = pLimit(2);

const derive = (password: string, salt: Buffer): Promise<Buffer> => deriving(() => deriveNow(password, salt));

const deriveNow = (password: string, salt: Buffer): Promise<Buffer> =>
  new Promise((resolve, reject) =>
    scrypt(password.normalize('NFC'), salt, BYTES, (error, key) => (error ? reject(error) : resolve(key))),
  );

/** What is kept of a password: salt and what scrypt makes of both, in hex. */
export async function hashOfPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  return `${salt.toString('hex')}:${(await derive(password, salt)).toString('hex')}`;
}

export async function isPassword(kept: string, password: string): Promise<boolean> {
  const [salt = '', key = ''] = kept.split(':').map((part) => Buffer.from(part, 'hex'));
  const found = await derive(password, Buffer.from(salt));
  return found.length === key.length && timingSafeEqual(found, Buffer.from(key));
}
