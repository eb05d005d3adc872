import { msg } from '@oiseau/messages';
import { join } from 'node:path';
import type { DiscReportRecord, Told } from '@oiseau/api';
import { untilBack } from '../db/away.js';
import type { Database } from '../db/database.js';
import { demandRendered } from '../deliveries/rendered.js';
import { JobFailed, JobStopped } from '../jobs/job-errors.js';
import type { ProgressReporter } from '../jobs/progress-reporter.js';
import type { MediaStore } from '../media/media-store.js';
import { readDiscBack } from './disc-back.js';
import {
  findHandover,
  noteAnnounced,
  noteLooked,
  noteSent,
  noteTold,
  type Handover,
} from './handover-repository.js';
import { ReceiverAway, ReceiverClient, ReceiverRefused, type RemoteShipment } from './receiver-client.js';
import { findReceiver, tokenOf } from './receiver-repository.js';
import { Patience, sendFiles } from './sending.js';
import { demandParcel, parcelOf, sumOfParcel } from './what-is-sent.js';

/** How often a receiver at work is asked how far it is. */
const LOOK_MS = 500;
/** So long a receiver may be at one thing. */
const LONGEST_SILENCE_MS = 24 * 3600_000;
/** States in which a receiver has not said yet whether it takes what it got. */
const JUDGING = [
  'receiving',
  'received',
  'waiting',
  'measuring',
  'testing',
  'writing',
  'wants-medium',
  'written',
];

/** As many as a shipment may have: what is asked of one later may list them all. */
const MOST_FILES = 5000;

/** @param files of the shipment that is spoken of; 0: of none */
export async function clientOf(db: Database, receiverId: string, files = 0): Promise<ReceiverClient> {
  const receiver = await findReceiver(db, receiverId);
  if (!receiver) throw new JobFailed(msg('The recipient was removed.'));
  return new ReceiverClient(receiver.url, await tokenOf(db, receiver.id), files);
}

const toldOf = (
  { state, final, progress, reasons, receipt }: RemoteShipment,
  copies: readonly DiscReportRecord[],
): Told => ({
  ...{ state, final, progress, receipt, copies: [...copies] },
  reasons: reasons.map(({ code, message, file, field, track }) => ({
    ...{ code, message },
    ...(file === undefined ? {} : { file }),
    ...(field === undefined ? {} : { field }),
    ...(track === undefined ? {} : { track }),
  })),
});

/** Sends a hand-over and waits until the receiver has said whether it takes it. Killed at any moment it goes on where it was: the receiver knows it by its id. */
export async function handoverJob(
  db: Database,
  media: MediaStore,
  id: string,
  progress: ProgressReporter,
): Promise<void> {
  const handover = await findHandover(db, id);
  if (!handover) throw new JobFailed(msg('The delivery no longer exists.'));
  const client = await clientOf(db, handover.receiver.id, MOST_FILES);
  const patience = new Patience(db, id, progress);
  try {
    const shipment = await send(db, media, handover, client, patience);
    await follow(db, media, handover, client, shipment.id, patience);
  } catch (error) {
    if (error instanceof JobStopped) await letGo(db, id, client);
    if (error instanceof ReceiverRefused) throw new JobFailed(error.message, { cause: error });
    throw error;
  }
}

async function send(
  db: Database,
  media: MediaStore,
  handover: Handover,
  receiver: ReceiverClient,
  patience: Patience,
): Promise<RemoteShipment> {
  const { id, remote, sentAt } = handover;
  // What has all arrived is not sent again, and need not lie here any more.
  if (remote !== null && sentAt !== null) return patience.until(() => receiver.shipment(remote));
  const parcel = await parcelOf(db, media, handover);
  await demandParcel(parcel);
  const files = parcel.files.map(({ path, bytes, sha256 }) => ({ path, bytes, sha256 }));
  const client = receiver.ofShipment(files.length);
  const announced = await patience.until(() => client.announce({ reference: id, what: parcel.what, files }));
  const bytes = files.reduce((sum, file) => sum + file.bytes, 0);
  await untilBack(() => noteAnnounced(db, id, { remote: announced.id, bytes, sums: sumOfParcel(parcel) }));
  if (announced.state === 'receiving') await sendFiles(client, announced, parcel.files, patience);
  const complete = await patience.until(() => client.complete(announced.id));
  await untilBack(() => noteSent(db, id));
  return complete;
}

/** Asks until the receiver has judged; a disc is read back, copy by copy. */
async function follow(
  db: Database,
  media: MediaStore,
  handover: Handover,
  client: ReceiverClient,
  remote: string,
  patience: Patience,
): Promise<void> {
  const copies = [...(handover.told?.copies ?? [])];
  let [last, since] = ['', performance.now()];
  for (;;) {
    const shipment = await patience.until(() => client.shipment(remote));
    await untilBack(() => noteTold(db, handover.id, toldOf(shipment, copies)));
    const { state } = shipment;
    const news = JSON.stringify([state, shipment.progress, shipment.reasons.length]);
    if (news !== last) [last, since] = [news, performance.now()];
    if (performance.now() - since > LONGEST_SILENCE_MS)
      throw new JobFailed(
        msg('The recipient has reported “{state}” for a day without progress. Ask them.', { state }),
      );
    if (shipment.final || !JUDGING.includes(state)) return;
    if (state === 'written') {
      const copy = Number(shipment.receipt?.copy ?? 1);
      if (!copies.some((each) => each.copy === copy)) {
        const report = await readDiscBack(client, await imageFolder(db, media, handover), copy, patience);
        copies.push(report);
        await untilBack(() => noteTold(db, handover.id, toldOf(shipment, copies)));
        if (!report.isSame) {
          // The drive must not go on with a disc or an image that can't be trusted.
          await patience.until(() => client.cancel(remote));
          throw new JobFailed(
            msg('Copy {copy} failed verification: it was read back and differs from the image.', { copy }),
          );
        }
      }
      await patience.until(() => client.next(remote, copy));
      continue;
    }
    await patience.wait(LOOK_MS, state, shipment.progress);
  }
}

async function imageFolder(
  db: Database,
  media: MediaStore,
  { deliveryId, writing }: Handover,
): Promise<string> {
  const { folder } = await demandRendered(db, media, deliveryId);
  return writing?.part ? join(folder, writing.part) : folder;
}

/** The delivery was stopped: what the recipient has of it is deleted, unless it was only paused. */
async function letGo(db: Database, id: string, client: ReceiverClient): Promise<void> {
  const now = await findHandover(db, id);
  if (!now || now.paused || now.remote === null) return;
  const { remote } = now;
  const isDrive = now.receiver.kind === 'drive' && now.sentAt !== null;
  // A recipient that is away keeps it, which does no harm.
  await (isDrive ? client.cancel(remote) : client.takeBack(remote)).catch(() => undefined);
}

/** Asks a receiver once what has become of something: a plant presses it, a shop puts it live. */
export async function followJob(db: Database, _media: MediaStore, id: string): Promise<void> {
  const handover = await findHandover(db, id);
  if (!handover?.remote) return;
  await noteLooked(db, id);
  try {
    const client = await clientOf(db, handover.receiver.id, MOST_FILES);
    const shipment = await client.shipment(handover.remote);
    await untilBack(() => noteTold(db, id, toldOf(shipment, handover.told?.copies ?? [])));
  } catch (error) {
    // It is asked again when it is due.
    if (!(error instanceof ReceiverAway)) throw error;
  }
}
