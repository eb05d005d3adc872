import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { checkAlbum, errorsFor } from '@oiseau/checks';
import { Failure } from '@oiseau/audio/errors';
import { planDeliverable, type RenderInput } from '@oiseau/render';
import type { Deliverable } from '@oiseau/album/model';
import {
  embeddedCover,
  isDiskFull,
  makeFolder,
  planSeconds,
  renderToFolder,
  shopCover,
  systemCode,
  Threads,
} from '@oiseau/host';
import { openAlbum, type AlbumOnDisk } from './album-on-disk.js';
import { findingLine, subjectOf } from './check.js';
import { UsageError, type ExitStatus } from './exit.js';
import { demandGoingOn } from './interrupt.js';

/** The command line renders an album as it stands; numbered revisions belong to the Shelf. */
const REVISION = 1;

/** `oiseau render ALBUM.json --out DIR [--only NAME ...] [--outside]` */
export async function render(
  path: string,
  out: string,
  { only, outside }: { readonly only: readonly string[]; readonly outside: boolean },
  report: (line: string) => void,
): Promise<ExitStatus> {
  // Their program lies beside this one; they get going while the album is opened.
  const threads = new Threads(fileURLToPath(new URL('render-thread.mjs', import.meta.url)), undefined, true);
  try {
    return await renderOpened(await openAlbum(path, outside), out, only, threads, report);
  } finally {
    await threads.close();
  }
}

async function renderOpened(
  opened: AlbumOnDisk,
  out: string,
  only: readonly string[],
  threads: Threads,
  report: (line: string) => void,
): Promise<ExitStatus> {
  const { album, parts, masters } = opened;
  try {
    const chosen = choose(album.deliverables, only);
    const subject = subjectOf(opened);
    const errors = errorsFor(
      checkAlbum(subject),
      chosen.map(({ name }) => name),
    );
    if (errors.length > 0) {
      errors.forEach((finding) => report(findingLine(subject, finding)));
      return 1;
    }
    const cover = opened.cover && (await embeddedCover(opened.cover.path));
    const at = opened.cover?.path;
    const picture: RenderInput['picture'] = (form, pixels) => shopCover(at ?? '', form, pixels);
    demandGoingOn();
    await makeFolder(out);
    let status: ExitStatus = 0;
    for (const deliverable of chosen) {
      const plan = planDeliverable(deliverable, {
        ...{ album, parts, masters, revision: REVISION, revisionDate: opened.revisionDate },
      });
      const tell = progressLines(deliverable.name, planSeconds(plan), report);
      const proof = await renderToFolder(
        plan,
        { parts, masters, cover, ...(at === undefined ? {} : { picture }) },
        REVISION,
        join(out, deliverable.name),
        tell,
        opened.files,
        { threads },
      );
      report(`${deliverable.name}: ${proof.proved ? 'proved' : 'NOT proved, see proof.json'}`);
      if (!proof.proved) status = 1;
    }
    return status;
  } catch (error) {
    if (isDiskFull(error))
      throw new UsageError(`${out}: the disk is full; nothing half-done was left.`, { cause: error });
    if (error instanceof UsageError) throw error;
    if (error instanceof Failure) throw new UsageError(error.message, { cause: error });
    if (systemCode(error))
      throw new UsageError(`${out}: could not be written (${systemCode(error)}).`, { cause: error });
    throw error;
  } finally {
    await opened.close();
  }
}

function choose(all: readonly Deliverable[], only: readonly string[]): readonly Deliverable[] {
  if (all.length === 0) throw new UsageError('The album file names no deliverable to render.');
  const unknown = only.filter((name) => !all.some((deliverable) => deliverable.name === name));
  if (unknown.length > 0) {
    throw new UsageError(
      `--only ${unknown.join(', ')}: no such deliverable; there are ${all.map(({ name }) => name).join(', ')}.`,
    );
  }
  return only.length > 0 ? all.filter(({ name }) => only.includes(name)) : all;
}

/** One line for each tenth of the way. */
function progressLines(
  name: string,
  totalSeconds: number,
  report: (line: string) => void,
): (phase: 'render' | 'prove', seconds: number) => void {
  let last = '';
  return (phase, seconds) => {
    demandGoingOn();
    const line = `${name}: ${phase} ${Math.floor((10 * seconds) / Math.max(1e-9, totalSeconds)) * 10} %`;
    if (line !== last) report(line);
    last = line;
  };
}
