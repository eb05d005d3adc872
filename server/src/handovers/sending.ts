import { msg } from '@oiseau/messages';
import { open } from 'node:fs/promises';
import { setTimeout as sleep } from 'node:timers/promises';
import { untilBack } from '../db/away.js';
import type { Database } from '../db/database.js';
import { JobFailed } from '../jobs/job-errors.js';
import type { ProgressReporter } from '../jobs/progress-reporter.js';
import { noteTrouble } from './handover-repository.js';
import {
  ReceiverAway,
  ReceiverRefused,
  type ReceiverClient,
  type RemoteShipment,
} from './receiver-client.js';
import { gone, type SentFile } from './what-is-sent.js';

/** Bytes that are sent at a time: as many as the line takes in a moment, so that one that breaks costs little, and a stop is obeyed soon. */
const PIECE = { least: 128 << 10, most: 8 << 20 };
const QUICK_MS = 200;
const SLOW_MS = 800;
/** Waits between tries: the first, and the longest. */
const FIRST_WAIT_MS = 500;
const LONGEST_WAIT_MS = 60_000;
/** So often in a row something is tried in vain. */
const MOST_TRIES = 14;
const LOOK_MS = 250;
/** Pieces in a row after which the receiver has no more of a file than before. */
const MOST_STALLS = 8;

/** Asks a receiver, and again with longer and longer waits while it is away; a wait can be ended by a stop. */
export class Patience {
  #tries = 0;
  #share = 0;

  constructor(
    readonly db: Database,
    readonly handoverId: string,
    readonly progress: ProgressReporter,
  ) {}

  /** Something has come through. */
  async well(phase: string, share: number): Promise<void> {
    this.#share = share;
    await this.progress.report(phase, share, 0);
  }

  /** @throws JobFailed once it was tried in vain too often, ReceiverRefused, or what ends a job */
  async until<T>(work: () => Promise<T>): Promise<T> {
    for (;;) {
      try {
        const done = await work();
        // The next trouble is a new one, however long ago this was.
        if (this.#tries > 0) await untilBack(() => noteTrouble(this.db, this.handoverId, null));
        this.#tries = 0;
        return done;
      } catch (error) {
        if (!(error instanceof ReceiverAway)) throw error;
        this.#tries++;
        if (this.#tries >= MOST_TRIES)
          throw new JobFailed(
            msg('{message} {count} attempts failed. “Try again” resumes where it stopped.', {
              message: error.message,
              count: MOST_TRIES,
            }),
            { cause: error },
          );
        await untilBack(() => noteTrouble(this.db, this.handoverId, error.message));
        await this.wait(Math.min(LONGEST_WAIT_MS, FIRST_WAIT_MS * 2 ** (this.#tries - 1)), 'again');
      }
    }
  }

  /** Waits, and hears of a stop meanwhile. */
  async wait(ms: number, phase: string, share = this.#share): Promise<void> {
    for (let left = ms; left > 0; left -= LOOK_MS) {
      await this.progress.report(phase, share, 0);
      await sleep(Math.min(LOOK_MS, left));
    }
  }
}

/** Sends what the receiver does not have yet of every file, from where it left off. */
export async function sendFiles(
  client: ReceiverClient,
  shipment: RemoteShipment,
  files: readonly SentFile[],
  patience: Patience,
): Promise<void> {
  const total = files.reduce((sum, { bytes }) => sum + bytes, 0);
  let done = shipment.files.reduce((sum, { received }) => sum + received, 0);
  let size = PIECE.least;
  for (const [place, file] of files.entries()) {
    const remote = shipment.files[place];
    if (remote?.path !== file.path || remote.bytes !== file.bytes)
      throw new JobFailed(msg('The recipient has a different shipment with this reference.'));
    demandSense(file, remote.received);
    let at = remote.received;
    let best = at;
    let stalled = 0;
    while (at < file.bytes) {
      const from = at;
      const piece = await pieceOf(file, from, size);
      const begun = performance.now();
      at = await patience.until(() => append(client, shipment.id, place, from, piece));
      demandSense(file, at);
      stalled = at > best ? 0 : stalled + 1;
      best = Math.max(best, at);
      if (stalled >= MOST_STALLS)
        throw new JobFailed(
          msg('The recipient makes no progress: it stays at {at} bytes of “{path}”.', {
            at,
            path: file.path,
          }),
        );
      done += at - from;
      const took = performance.now() - begun;
      if (took < QUICK_MS) size = Math.min(PIECE.most, 2 * size);
      else if (took > SLOW_MS) size = Math.max(PIECE.least, size / 2);
      await patience.well('send', total > 0 ? done / total : 1);
    }
  }
}

/** @throws JobFailed where a receiver says that it has more of a file than there is */
function demandSense({ path, bytes }: SentFile, received: number): void {
  if (received > bytes)
    throw new JobFailed(
      msg('The recipient reports {received} bytes of “{path}”, which has {bytes}.', {
        received,
        path,
        bytes,
      }),
    );
}

/** @returns how much the receiver has of the file; when it has another amount than we thought, that */
async function append(
  client: ReceiverClient,
  id: string,
  place: number,
  from: number,
  piece: Buffer,
): Promise<number> {
  try {
    return await client.append(id, place, from, piece);
  } catch (error) {
    // The line broke after some of it had arrived.
    if (error instanceof ReceiverRefused && error.answer.received !== undefined) return error.answer.received;
    throw error;
  }
}

async function pieceOf({ path, content, bytes }: SentFile, at: number, most: number): Promise<Buffer> {
  const count = Math.min(most, bytes - at);
  if ('made' in content) return content.made.subarray(at, at + count);
  const file = await open(content.file, 'r').catch((cause: unknown) => gone(path, cause));
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(count), 0, count, at);
    if (bytesRead < count)
      throw new JobFailed(msg('“{path}” is shorter than it was. Render it again.', { path }));
    return buffer;
  } finally {
    await file.close();
  }
}
