import { join } from 'node:path';
import { deliveryIdsWithFiles, findDelivery } from '../deliveries/delivery-repository.js';
import { findRevision } from '../albums/revision-repository.js';
import type { Db } from '../db/database.js';
import type { MediaStore } from '../media/media-store.js';

/** A file of the media store that the database names: it must lie there, and be what it was. */
export interface KeptFile {
  readonly kind: 'master' | 'decoded' | 'picture' | 'render';
  /** Below the media store. */
  readonly path: string;
  /** null if unknown. */
  readonly sha256: string | null;
  readonly bytes: number | null;
  /** SHA-256 of the master or picture, or the delivery's id. */
  readonly subject: string;
  /** What begins a sentence about it. */
  readonly called: string;
}

/**
 * Every file that the database names, masters first: what is looked over, what a backup holds, and what housekeeping leaves alone. One row is
 * in memory at a time, and a short list of ids.
 */
export async function* keptFiles(db: Db, media: MediaStore): AsyncGenerator<KeptFile> {
  yield* keptMasters(db, media);
  yield* keptPictures(db, media);
  for (const id of await deliveryIdsWithFiles(db)) yield* keptOfDelivery(db, media, id);
}

async function* keptMasters(db: Db, media: MediaStore): AsyncGenerator<KeptFile> {
  const masters = await db.many(
    (row) => ({
      sha256: String(row.sha256),
      bytes: Number(row.bytes),
      coded: row.coding !== null,
      decoded: row.decoded_sha256 === null ? null : String(row.decoded_sha256),
      name: row.name === null ? String(row.sha256).slice(0, 12) : String(row.name),
    }),
    `SELECT m.sha256, m.bytes, m.coding, m.decoded_sha256, (SELECT MIN(a.name) FROM album_masters a WHERE a.sha256 = m.sha256) AS name
     FROM masters m ORDER BY m.sha256`,
  );
  for (const { sha256, bytes, coded, decoded, name } of masters) {
    const called = `The master “${name}”`;
    yield { kind: 'master', path: media.below(media.file(sha256)), sha256, bytes, subject: sha256, called };
    if (!coded) continue;
    const path = media.below(media.decoded(sha256));
    const audio = `The decoded audio of the master “${name}”`;
    yield { kind: 'decoded', path, sha256: decoded, bytes: null, subject: sha256, called: audio };
  }
}

async function* keptPictures(db: Db, media: MediaStore): AsyncGenerator<KeptFile> {
  const pictures = await db.many(
    (row) => ({ sha256: String(row.sha256), bytes: Number(row.bytes), name: String(row.name) }),
    'SELECT sha256, bytes, name FROM pictures ORDER BY sha256',
  );
  for (const { sha256, bytes, name } of pictures) {
    const path = media.below(media.file(sha256));
    yield { kind: 'picture', path, sha256, bytes, subject: sha256, called: `The picture “${name}”` };
  }
}

async function* keptOfDelivery(db: Db, media: MediaStore, id: string): AsyncGenerator<KeptFile> {
  const delivery = await findDelivery(db, id);
  if (!delivery?.proof || delivery.clearedAt) return;
  const { albumId, revision, deliverable, attempt, proof } = delivery;
  const album = await findRevision(db, albumId, revision).catch(() => undefined);
  const folder = media.below(join(media.delivery(id), attempt, deliverable.name));
  const file = (path: string, sha256: string | null, bytes: number | null): KeptFile => ({
    ...{ kind: 'render', path: `${folder}/${path}`, sha256, bytes, subject: id },
    called: `“${path}” of the render “${deliverable.name}”, revision ${revision} of “${album?.title ?? 'an album'}”,`,
  });
  for (const { path, sha256, bytes } of proof.files) yield file(path, sha256, bytes);
  yield file('proof.json', null, null);
}
