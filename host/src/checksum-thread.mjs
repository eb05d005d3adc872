// Program of the thread that takes checksums for `checksum.ts`: plain JavaScript, so that it runs from source as well as from a bundle.
import { createHash } from 'node:crypto';
import { open } from 'node:fs/promises';
import { parentPort } from 'node:worker_threads';

/** Running checksums by number. */
const running = new Map();

const answer = ({ id, bytes }, work) =>
  work.then(
    (digest) => parentPort.postMessage({ id, digest, bytes }, bytes ? [bytes.buffer] : []),
    ({ message, code }) => parentPort.postMessage({ id, failure: { message, code } }),
  );

// The same memory for all of a file: fresh memory costs more than reading.
const PIECE = 1 << 18;

const ofFile = async ({ path, algorithm }) => {
  const hash = createHash(algorithm);
  const file = await open(path);
  try {
    const memory = Buffer.allocUnsafeSlow(PIECE);
    for (;;) {
      const { bytesRead } = await file.read(memory, 0, PIECE, null);
      if (bytesRead === 0) return hash.digest('hex');
      hash.update(memory.subarray(0, bytesRead));
    }
  } finally {
    await file.close();
  }
};

const ofRunning = async ({ hash, bytes, drop }) => {
  if (bytes) running.set(hash, (running.get(hash) ?? createHash('sha256')).update(bytes));
  else {
    const made = running.get(hash) ?? createHash('sha256');
    running.delete(hash);
    return drop ? '' : made.digest('hex');
  }
  return '';
};

parentPort.on('message', (order) => answer(order, order.path ? ofFile(order) : ofRunning(order)));
