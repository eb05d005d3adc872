import { createHash } from 'node:crypto';
import { readFile, rm } from 'node:fs/promises';
import type { Readable } from 'node:stream';
import { AudioRefused, demandMasterName, demandStereo } from '@oiseau/core';
import { digestFile, prepareMaster, type PreparedMaster } from '@oiseau/host';
import type { Database } from '../db/database.js';
import { noteBrought } from '../access/doors.js';
import { ApiError } from '../http/api-error.js';
import type { Visitor } from '../access/visitor.js';
import { enqueueOnce } from '../jobs/job-repository.js';
import type { Arrival, MediaStore } from '../media/media-store.js';
import { keepPicture } from '../media/picture-intake.js';
import type { Uploads } from '../media/uploads.js';
import { decodeAgain, isDecoded } from './decoded.js';
import { findMaster, insertMaster, type MasterRecord } from './master-repository.js';

/** What a person says of a file that comes in. */
export interface IntakeOrder {
  /** The name of the file. */
  readonly name: string;
  /** One channel may be put on both sides. */
  readonly mono: boolean;
}

/** What was taken in. */
export interface TakenIn {
  readonly sha256: string;
  readonly bytes: number;
}

/**
 * Judges files, decodes what is coded, stores them by their content and has them measured. Of a file that is refused nothing is
 * kept.
 */
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
    await this.#admit(arrival, order);
    await noteBrought(this.db, visitor, arrival.sha256);
    return { sha256: arrival.sha256, bytes: arrival.bytes };
  }

  async #admit(arrival: Arrival, { name, mono }: IntakeOrder): Promise<void> {
    const known = await findMaster(this.db, arrival.sha256);
    if (known && !known.damaged) {
      demandStereo(known.info.channels, mono);
      await this.#heal(arrival, known);
    } else await this.#store(arrival, name, mono);
    if (!known?.measurement) await enqueueOnce(this.db, 'measure', arrival.sha256);
  }

  /** What was brought in before and comes again replaces what lies there: that may be lost, cut or changed by now. */
  async #heal(arrival: Arrival, known: MasterRecord): Promise<void> {
    await this.media.keep(arrival);
    if (known.coding && !(await isDecoded(this.media, known))) await decodeAgain(this.db, this.media, known);
  }

  async #store(arrival: Arrival, name: string, mono: boolean): Promise<void> {
    const scratch = this.media.scratch();
    let prepared: PreparedMaster | undefined;
    try {
      prepared = await prepareMaster(arrival.path, mono, scratch, (bytes) => this.media.demandRoom(bytes));
      const decodedSha256 = prepared.decoded && (await digestFile(prepared.decoded, 'sha256'));
      if (prepared.decoded) await this.media.keepDecoded(prepared.decoded, arrival.sha256);
      await this.media.keep(arrival);
      const { info, coding, text } = prepared;
      const cover = prepared.cover && (await this.#keepCover(prepared.cover, name));
      await insertMaster(this.db, {
        sha256: arrival.sha256,
        bytes: arrival.bytes,
        info,
        coding,
        embedded: { ...text, cover },
        decodedSha256,
      });
    } catch (error) {
      for (const path of [prepared?.decoded, prepared?.cover]) if (path) await rm(path, { force: true });
      throw error;
    }
  }

  /** A picture out of the file is kept like one that was brought in; one that is no picture is let go. */
  async #keepCover(path: string, name: string): Promise<string | null> {
    const picture = await readFile(path);
    const sha256 = createHash('sha256').update(picture).digest('hex');
    const arrival = { path, sha256, bytes: picture.length };
    try {
      await keepPicture(this.db, this.media, arrival, name);
      return sha256;
    } catch (error) {
      if (error instanceof ApiError && error.status !== 507) return null;
      throw error;
    }
  }
}
