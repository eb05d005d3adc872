import { randomUUID } from 'node:crypto';
import type { Readable } from 'node:stream';
import { AudioRefused, demandMasterName, examineMaster } from '@oiseau/audio/pcm';
import { FileByteSource } from '@oiseau/host';
import type { Database } from '../db/database.js';
import { noteBrought } from '../access/authorization.js';
import type { Visitor } from '../access/visitor.js';
import { enqueue } from '../jobs/job-repository.js';
import type { Arrival, MediaStore } from '../media/media-store.js';
import type { Uploads } from '../media/uploads.js';
import { admit, type IntakeOrder } from './admission.js';
import { insertIntake, type IntakeRecord } from './intake-repository.js';

/** What was taken in. */
export interface TakenIn {
  readonly sha256: string;
  readonly bytes: number;
}

/** Takes files in, however they come (see `admit`). */
export class Intake {
  constructor(
    readonly db: Database,
    readonly media: MediaStore,
    readonly uploads: Uploads,
  ) {}

  /**
   * Streams a file in.
   * @param announced bytes that it says it has; 0 where it does not tell
   * @throws AudioRefused with the reason; ApiError 507 without room for it
   */
  async receive(visitor: Visitor, order: IntakeOrder, stream: Readable, announced: number): Promise<TakenIn> {
    demandMasterName(order.name);
    await this.media.demandRoom(announced);
    const arrival = await this.media.receive(stream);
    try {
      return await this.#judge(visitor, arrival, order);
    } finally {
      await this.media.discard(arrival);
    }
  }

  /**
   * Takes in what was uploaded by pieces. Only a file that is refused for a fault of its own goes: one that is mono stays, so that the
   * person can agree without sending it again, and so does one that could not be taken in for another reason.
   * @throws AudioRefused with the reason; ApiError 404 where there is no such upload, 409 where it is not whole
   */
  async takeUpload(visitor: Visitor, order: IntakeOrder, id: string): Promise<TakenIn> {
    const claimed = await this.uploads.claim(visitor, id);
    try {
      demandMasterName(order.name);
      const taken = await this.#judge(visitor, await this.media.hashed(claimed.path), order);
      await claimed.forget();
      return taken;
    } catch (error) {
      if (error instanceof AudioRefused && error.reason !== 'mono') await claimed.forget();
      else await claimed.giveBack();
      throw error;
    }
  }

  async #judge(visitor: Visitor, arrival: Arrival, order: IntakeOrder): Promise<TakenIn> {
    await admit(this.db, this.media, arrival, order);
    await noteBrought(this.db, visitor, arrival.sha256);
    return { sha256: arrival.sha256, bytes: arrival.bytes };
  }

  /**
   * Leaves what was uploaded by pieces to a job, where it must be decoded.
   * @returns the id under which it is told what becomes of it; null where it holds plain words, and is taken in at once
   * @throws AudioRefused with the reason; ApiError 404 where there is no such upload, 409 where it is not whole
   */
  async takeLater(
    visitor: Visitor,
    albumId: string,
    { name, mono, replaces, awaits }: IntakeOrder & Pick<IntakeRecord, 'replaces' | 'awaits'>,
    upload: string,
  ): Promise<string | null> {
    demandMasterName(name);
    const claimed = await this.uploads.claim(visitor, upload);
    let given = claimed;
    try {
      if (!(await isCoded(claimed.path, mono))) {
        await claimed.giveBack();
        return null;
      }
      given = await this.uploads.handOver(claimed, upload);
      const id = randomUUID();
      const { keyId, opensAll } = visitor;
      await this.db.transaction(async (transaction) => {
        const jobId = await enqueue(transaction, 'intake', id);
        const order = { name, mono, replaces, awaits };
        await insertIntake(transaction, { id, albumId, keyId, opensAll, upload, ...order, jobId });
      });
      return id;
    } catch (error) {
      if (error instanceof AudioRefused && error.reason !== 'mono') await given.forget();
      else await given.giveBack();
      throw error;
    }
  }
}

async function isCoded(path: string, mono: boolean): Promise<boolean> {
  const bytes = await FileByteSource.open(path);
  try {
    return (await examineMaster(bytes, mono)).kind === 'coded';
  } finally {
    await bytes.close();
  }
}
