import { createHash } from 'node:crypto';
import { readFile, stat } from 'node:fs/promises';
import { audioFiles, partOfPath } from '@oiseau/render';
import { embeddedCover, systemCode } from '@oiseau/host';
import { findRevision } from '../albums/revision-repository.js';
import type { Db } from '../db/database.js';
import { deliveredPlan } from '../deliveries/delivered-plan.js';
import { demandRendered, type Rendered } from '../deliveries/rendered.js';
import { ApiError, notFound } from '../http/api-error.js';
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

/** What lies there no more, or is another, is never sent. @throws ApiError 409, unless the fault is another */
export function gone(path: string, cause?: unknown): never {
  if (cause !== undefined && systemCode(cause) !== 'ENOENT') throw cause;
  throw new ApiError(409, `“${path}” is missing or has changed; render it again.`, {}, { cause });
}

const made = (path: string, bytes: Buffer): SentFile => ({
  ...{ path, bytes: bytes.length, content: { made: bytes } },
  sha256: createHash('sha256').update(bytes).digest('hex'),
});

/** A file of a delivery, with the sum that its proof has of it. */
async function delivered({ delivery, files }: Rendered, name: string): Promise<SentFile> {
  const file = files.find((each) => each.name === name);
  const proof = delivery.proof?.files.find(({ path }) => path === name);
  if (!file) throw notFound('file');
  // The proof itself is in no list of sums.
  if (!proof) return made(name, await readFile(file.path).catch((cause: unknown) => gone(name, cause)));
  return { path: name, bytes: proof.bytes, sha256: proof.sha256, content: { file: file.path } };
}

/** What a hand-over sends. @throws ApiError where the delivery is not there any more */
export async function parcelOf(db: Db, media: MediaStore, handover: Handover): Promise<Parcel> {
  const rendered = await demandRendered(db, media, handover.deliveryId);
  const { delivery } = rendered;
  const album = await findRevision(db, delivery.albumId, delivery.revision);
  if (!album) throw notFound('revision');
  const names = rendered.files.map(({ name }) => name);
  const part = handover.writing?.part ?? null;
  const inPart = names.filter((name) => part === null || partOfPath(name) === part);
  const all = (list: readonly string[]): Promise<SentFile[]> =>
    Promise.all(list.map((name) => delivered(rendered, name)));
  const { title, performer } = album;
  const release = { title, performer, revision: delivery.revision };
  switch (handover.receiver.kind) {
    case 'drive': {
      const sent = inPart.filter((name) => !['proof.json', 'SHA256SUMS'].includes(name));
      const sheet = sent.find((name) => name.endsWith('.cue'));
      const image = sheet ?? (part === null ? '' : `${part}/`);
      const { speed = 16, test = false, copies = 1 } = handover.writing ?? {};
      return { files: await all(sent), what: { ...release, image, speed, test, copies } };
    }
    case 'plant': {
      const sheets = await sheetsOfDiscs(db, delivery.albumId, album);
      const extra = sheets.map(({ path, bytes }) => made(path, bytes));
      return { files: [...(await all(names)), ...extra], what: release };
    }
    case 'shop':
      return { files: await all(names), what: release };
    case 'service': {
      const told = await tracksTold(db, rendered);
      const audio = await all(told.map(({ path }) => path));
      const cover =
        album.artwork === null
          ? []
          : [made('cover.jpg', Buffer.from((await embeddedCover(media.file(album.artwork))).bytes))];
      return {
        files: [...audio, ...cover],
        what: { ...release, cover: cover[0]?.path ?? null, tracks: told },
      };
    }
    default:
      return handover.receiver.kind satisfies never;
  }
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

/** Looks that every file is there and as large as it was. @throws ApiError 409 */
export async function demandParcel({ files }: Parcel): Promise<void> {
  for (const { path, bytes, content } of files) {
    if ('made' in content) continue;
    const size = (await stat(content.file).catch(() => null))?.size;
    if (size !== bytes) gone(path);
  }
}
