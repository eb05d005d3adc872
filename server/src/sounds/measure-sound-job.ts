import { msg } from '@oiseau/messages';
import { outlineBytes } from '@oiseau/album/measured';
import { measureLineUp } from '@oiseau/audio/measure';
import { measureSide, measureSound } from '@oiseau/render';
import type { Database } from '../db/database.js';
import { untilBack } from '../db/away.js';
import { JobFailed, JobStopped } from '../jobs/job-errors.js';
import type { ProgressReporter } from '../jobs/progress-reporter.js';
import { openMasterAudio, type MasterAudio } from '../masters/master-audio.js';
import { mastersByKey } from '../masters/master-repository.js';
import type { MediaStore } from '../media/media-store.js';
import { findRoom } from './find-room.js';
import { mastersOf, type Answer } from './asked.js';
import { findSound, isAwaited, storeFigures } from './sound-repository.js';

/** A page that waits asks every second or so; after so many seconds without a request the job ends. */
const PATIENCE_SECONDS = 30;
/** How often it is looked whether anybody waits, ms. */
const LOOK_MS = 2000;

/** Measures a treated sound from end to end, as long as a page waits for it: dragging a curve abandons many. */
export async function measureSoundJob(
  db: Database,
  media: MediaStore,
  subject: string,
  progress: ProgressReporter,
): Promise<void> {
  const row = await findSound(db, Number(subject));
  if (!row?.sound) throw new JobFailed(msg('This treatment no longer exists.'));
  if (row.figures) return;
  const { id, sound } = row;
  let looked = -Infinity;
  const demandListener = async (): Promise<void> => {
    if (performance.now() - looked < LOOK_MS) return;
    looked = performance.now();
    if (!(await isAwaited(db, id, PATIENCE_SECONDS))) throw new JobStopped();
  };
  await demandListener();
  const played = mastersOf(sound);
  const masters = await mastersByKey(db, row.albumId, played);
  const opened = new Map<string, MasterAudio>();
  try {
    for (const key of new Set(played)) {
      const master = masters.find(({ sha256 }) => sha256 === key);
      if (!master) throw new JobFailed(msg('A master of this treatment no longer exists.'));
      opened.set(key, await openMasterAudio(db, media, master, `The master “${master.name}”`));
    }
    const sources = new Map([...opened].map(([key, { pcm }]) => [key, pcm]));
    const tell = async (share: number, seconds: number): Promise<void> => {
      await progress.report('measure', share, seconds);
      await demandListener();
    };
    const answered = async (answer: Answer): Promise<void> => {
      for (const audio of opened.values()) await audio.attest();
      await untilBack(() => storeFigures(db, id, answer, null, null));
    };
    if (sound.kind === 'room') return await answered(await findRoom(sound, sources, tell));
    if (sound.kind === 'side') return await answered(await measureSide(sound, sources, tell));
    if (sound.kind === 'line-up') {
      const [master, other] = [sources.get(sound.master), sources.get(sound.other)];
      if (!master || !other) throw new JobFailed(msg('An alternate version no longer exists.'));
      return await answered({ found: await measureLineUp(master, other, (share) => tell(share, 0)) });
    }
    const { figures, outline } = await measureSound(sound, sources, tell);
    for (const audio of opened.values()) await audio.attest();
    const floats = Float32Array.from(outline.powers);
    await untilBack(() =>
      storeFigures(
        db,
        id,
        figures,
        Buffer.from(outlineBytes(outline)),
        Buffer.from(floats.buffer, floats.byteOffset, floats.byteLength),
      ),
    );
  } finally {
    for (const audio of opened.values()) await audio.close();
  }
}
