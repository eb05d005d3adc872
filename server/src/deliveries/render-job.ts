import { msg } from '@oiseau/messages';
import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { albumOfDeliverable, alternateOf, mastersPlayed, recordingsOf } from '@oiseau/album/model';
import { layOutDeliverable } from '@oiseau/album/layout';
import { compareProofs, planBytes, planDeliverable, type RenderInput } from '@oiseau/render';
import type { EmbeddedPicture } from '@oiseau/codings';
import {
  digestFile,
  embeddedCover,
  planSeconds,
  renderToFolder,
  shopCover,
  type BesideIt,
} from '@oiseau/host';
import { untilBack } from '../db/away.js';
import type { Database } from '../db/database.js';
import { earlierProof, findDelivery, storeProof } from './delivery-repository.js';
import { dayOfRevision, findRevision } from '../albums/revision-repository.js';
import { openMasterAudio, type MasterAudio } from '../masters/master-audio.js';
import { mastersByKey } from '../masters/master-repository.js';
import type { MediaStore } from '../media/media-store.js';
import { JobFailed, JobLost } from '../jobs/job-errors.js';
import { attemptOf, clearAttempts } from './attempts.js';
import type { ProgressReporter } from '../jobs/progress-reporter.js';

/** Share of the whole that writing takes; reading back and testing take the rest. Measured on the demo. */
const RENDER_SHARE = 0.7;

/** Renders one delivery from its revision and proves it. */
export async function renderJob(
  db: Database,
  media: MediaStore,
  deliveryId: string,
  progress: ProgressReporter,
  beside: BesideIt | null,
): Promise<void> {
  const delivery = await findDelivery(db, deliveryId);
  const album = delivery && (await findRevision(db, delivery.albumId, delivery.revision));
  if (!delivery || !album) throw new JobFailed(msg('The delivery no longer exists.'));
  const earlier = delivery.proof ?? (await earlierProof(db, delivery));
  const attempt = attemptOf(progress.job);
  const folder = join(media.delivery(delivery.id), attempt);
  // A revision keeps its masters, whatever the album has become since.
  const masters = await mastersByKey(db, delivery.albumId, mastersPlayed(album));
  const recordings = recordingsOf(delivery.deliverable);
  const opened = new Map<string, MasterAudio>();
  try {
    for (const song of albumOfDeliverable(album, delivery.deliverable).album.songs) {
      // What nothing asks for need not be there.
      const needed = recordings.flatMap((name) => alternateOf(song, name)?.master ?? []);
      for (const key of [song.region.master, ...needed]) {
        if (opened.has(key)) continue;
        const master = masters.find(({ sha256 }) => sha256 === key);
        if (!master)
          throw new JobFailed(msg('The master of “{title}” no longer exists.', { title: song.title }));
        opened.set(
          key,
          await openMasterAudio(db, media, master, `The master “${master.name || song.title}”`),
        );
      }
    }
    const sources = new Map([...opened].map(([sha256, { pcm }]) => [sha256, pcm]));
    const { deliverable, revision } = delivery;
    const laidOut = layOutDeliverable(album, deliverable, sources);
    const { parts } = laidOut;
    const revisionDate = await dayOfRevision(db, delivery.albumId, revision);
    const plan = planDeliverable(deliverable, { ...laidOut, masters: sources, revision, revisionDate });
    await media.demandRoom(planBytes(plan));
    const { artwork } = album;
    const cover = artwork === null ? null : await coverOf(media, artwork);
    const picture: RenderInput['picture'] = (form, pixels) =>
      shopCover(media.file(artwork ?? ''), form, pixels);
    const total = Math.max(1e-9, planSeconds(plan));
    await mkdir(folder, { recursive: true });
    const proof = await renderToFolder(
      plan,
      {
        parts,
        masters: sources,
        cover,
        ...(artwork === null ? {} : { picture }),
        attest: async () => {
          for (const { attest } of opened.values()) await attest();
        },
      },
      revision,
      join(folder, delivery.deliverable.name),
      (phase, seconds) => {
        const share = Math.min(1, seconds / total);
        const [base, width] = phase === 'render' ? [0, RENDER_SHARE] : [RENDER_SHARE, 1 - RENDER_SHARE];
        return progress.report(phase, base + width * share, phase === 'render' ? seconds : total);
      },
      [],
      beside,
    );
    const compared = earlier && compareProofs(earlier, proof);
    if (!(await untilBack(() => storeProof(db, delivery.id, progress.job, attempt, proof, compared))))
      throw new JobLost();
    await clearAttempts(media, delivery.id, attempt);
  } catch (error) {
    await rm(folder, { recursive: true, force: true });
    throw error;
  } finally {
    await Promise.all([...opened.values()].map((audio) => audio.close()));
  }
}

async function coverOf(media: MediaStore, sha256: string): Promise<EmbeddedPicture> {
  try {
    const path = media.file(sha256);
    if ((await digestFile(path, 'sha256')) !== sha256) throw new Error('the picture has changed');
    return await embeddedCover(path);
  } catch (cause) {
    throw new JobFailed(
      msg('The cover is missing or has changed in the media store. Add the same picture again.'),
      { cause },
    );
  }
}
