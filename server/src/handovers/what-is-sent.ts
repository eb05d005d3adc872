import { albumOfDeliverable } from '@oiseau/album/model';
import { msg } from '@oiseau/messages';
import { createHash } from 'node:crypto';
import { readFile, stat } from 'node:fs/promises';
import { audioFiles } from '@oiseau/render';
import { recipientOf } from '@oiseau/api';
import { embeddedCover, systemCode } from '@oiseau/host';
import { findRevision } from '../albums/revision-repository.js';
import type { Db } from '../db/database.js';
import { deliveredPlan } from '../deliveries/delivered-plan.js';
import { demandRendered, type Rendered } from '../deliveries/rendered.js';
import { Failure } from '@oiseau/audio/errors';
import type { MediaStore } from '../media/media-store.js';
import { sheetsOfDiscs } from '../sheets/pq-sheets.js';
import type { Handover } from './handover-repository.js';

/** A file that is sent: one of a delivery, or one that is made for it. */
export interface SentFile {
  readonly path: string;
  readonly bytes: number;
  readonly sha256: string;
  readonly content: { readonly file: string } | { readonly made: Buffer };
}

/** Everything that goes to a receiver. */
export interface Parcel {
  readonly files: readonly SentFile[];
  /** What it must be told beside the files. */
  readonly what: object;
}

/** A delivery can't be sent: a file or its revision is missing, or has changed since it was verified. */
export class DeliveryChanged extends Failure {
  override readonly name = 'DeliveryChanged';
  readonly code = 'delivery-changed';
  readonly status = 409;
}

/** Ends a send whose file is missing or changed. @throws DeliveryChanged, or `cause` where that is another fault */
export function gone(path: string, cause?: unknown): never {
  if (cause !== undefined && systemCode(cause) !== 'ENOENT') throw cause;
  throw new DeliveryChanged(msg('“{path}” is missing or has changed. Render it again.', { path }), { cause });
}

const made = (path: string, bytes: Buffer): SentFile => ({
  ...{ path, bytes: bytes.length, content: { made: bytes } },
  sha256: createHash('sha256').update(bytes).digest('hex'),
});

/** A file of a delivery, with the sum that its proof has of it. */
async function delivered({ delivery, files }: Rendered, name: string): Promise<SentFile> {
  const file = files.find((each) => each.name === name);
  const proof = delivery.proof?.files.find(({ path }) => path === name);
  if (!file) gone(name);
  // The proof itself is in no list of sums.
  if (!proof) return made(name, await readFile(file.path).catch((cause: unknown) => gone(name, cause)));
  return { path: name, bytes: proof.bytes, sha256: proof.sha256, content: { file: file.path } };
}

/** What a hand-over sends. @throws DeliveryChanged */
export async function parcelOf(db: Db, media: MediaStore, handover: Handover): Promise<Parcel> {
  const rendered = await demandRendered(db, media, handover.deliveryId);
  const { delivery } = rendered;
  const revision = await findRevision(db, delivery.albumId, delivery.revision);
  if (!revision) throw new DeliveryChanged(msg('The revision of this delivery is missing. Render it again.'));
  const { album } = albumOfDeliverable(revision, delivery.deliverable);
  const { title, performer } = album;
  const shipment = recipientOf(handover.receiver.kind).shipment({
    files: rendered.files.map(({ name }) => name),
    release: { title, performer, revision: delivery.revision },
    writing: handover.writing,
  });
  const told = shipment.words || shipment.files === 'audio' ? await tracksTold(db, rendered) : [];
  const paths = shipment.files === 'audio' ? told.map(({ path }) => path) : shipment.files;
  const files = await Promise.all(paths.map((name) => delivered(rendered, name)));
  const sheets = shipment.sheets
    ? await sheetsOfDiscs(db, delivery.albumId, revision, delivery.deliverable)
    : [];
  const cover =
    shipment.words && album.artwork !== null
      ? [made('cover.jpg', Buffer.from((await embeddedCover(media.file(album.artwork))).bytes))]
      : [];
  return {
    files: [...files, ...sheets.map(({ path, bytes }) => made(path, bytes)), ...cover],
    what: {
      ...shipment.what,
      ...(shipment.words ? { cover: cover[0]?.path ?? null, tracks: told } : {}),
    },
  };
}

/** The words of each file of audio, as they stand in its tags. */
async function tracksTold(db: Db, { delivery }: Rendered) {
  const { album, plan } = await deliveredPlan(db, delivery);
  return audioFiles(plan).map(({ path, tags }) => ({
    ...{ path, title: tags.TITLE || 'Untitled', performer: tags.ARTIST || album.performer || 'Unknown' },
    ...{ isrc: tags.ISRC ?? '', number: tags.TRACKNUMBER ?? '', disc: tags.DISCNUMBER ?? '' },
  }));
}

/** One sum over everything that a parcel holds. */
export const sumOfParcel = ({ files }: Parcel): string => {
  const hash = createHash('sha256');
  for (const { path, sha256 } of files) hash.update(`${sha256}  ${path}\n`);
  return hash.digest('hex');
};

/** Looks that every file is there and as large as it was. @throws DeliveryChanged */
export async function demandParcel({ files }: Parcel): Promise<void> {
  for (const { path, bytes, content } of files) {
    if ('made' in content) continue;
    const size = (await stat(content.file).catch(() => null))?.size;
    if (size !== bytes) gone(path);
  }
}
