import { createHash } from 'node:crypto';
import { readFile, rm } from 'node:fs/promises';
import { demandStereo } from '@oiseau/audio/pcm';
import { digestFile, prepareMaster, type PreparedMaster, type PrepareOptions } from '@oiseau/host';
import type { Database } from '../db/database.js';
import { ApiError } from '../http/api-error.js';
import { enqueueOnce } from '../jobs/job-repository.js';
import type { Arrival, MediaStore } from '../media/media-store.js';
import { keepPicture } from '../media/picture-intake.js';
import { decodeAgain, isDecoded } from './decoded.js';
import { findMaster, insertMaster, type MasterRecord } from './master-repository.js';

/** What a person says of a file that comes in. */
export interface IntakeOrder {
  /** The name of the file. */
  readonly name: string;
  /** One channel may be put on both sides. */
  readonly mono: boolean;
}

/**
 * Judges a file that lies here, decodes what is coded, stores it by its content and has it measured. Of one that is refused nothing is
 * kept; the arrival itself stays, and belongs to its owner.
 * @param decoded is told how far decoding is; it may throw to end it
 * @throws AudioRefused with the reason; ApiError 507 without room for it
 */
export async function admit(
  db: Database,
  media: MediaStore,
  arrival: Arrival,
  { name, mono }: IntakeOrder,
  decoded?: PrepareOptions['decoded'],
): Promise<void> {
  const known = await findMaster(db, arrival.sha256);
  if (known && !known.damaged) {
    demandStereo(known.info.channels, mono);
    await heal(db, media, arrival, known);
  } else await store(db, media, arrival, { name, mono }, decoded);
  if (!known?.measurement) await enqueueOnce(db, 'measure', arrival.sha256);
}

/** What was brought in before and comes again replaces what lies there: that may be lost, cut or changed by now. */
async function heal(db: Database, media: MediaStore, arrival: Arrival, known: MasterRecord): Promise<void> {
  await media.keep(arrival);
  if (known.coding && !(await isDecoded(media, known))) await decodeAgain(db, media, known);
}

async function store(
  db: Database,
  media: MediaStore,
  arrival: Arrival,
  { name, mono }: IntakeOrder,
  decoded: PrepareOptions['decoded'],
): Promise<void> {
  const scratch = media.scratch();
  let prepared: PreparedMaster | undefined;
  try {
    const demandRoom = (bytes: number): Promise<void> => media.demandRoom(bytes);
    prepared = await prepareMaster(arrival.path, mono, scratch, { demandRoom, decoded });
    const decodedSha256 = prepared.decoded && (await digestFile(prepared.decoded, 'sha256'));
    if (prepared.decoded) await media.keepDecoded(prepared.decoded, arrival.sha256);
    await media.keep(arrival);
    const { info, coding, text } = prepared;
    const cover = prepared.cover && (await keepCover(db, media, prepared.cover, name));
    await insertMaster(db, {
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
async function keepCover(
  db: Database,
  media: MediaStore,
  path: string,
  name: string,
): Promise<string | null> {
  const picture = await readFile(path);
  const sha256 = createHash('sha256').update(picture).digest('hex');
  const arrival = { path, sha256, bytes: picture.length };
  try {
    await keepPicture(db, media, arrival, name);
    return sha256;
  } catch (error) {
    if (error instanceof ApiError && error.status !== 507) return null;
    throw error;
  }
}
