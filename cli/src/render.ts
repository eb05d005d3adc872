import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { checkAlbum, errorsFor } from '@oiseau/checks';
import { Failure } from '@oiseau/audio/errors';
import { planDeliverable, type RenderInput } from '@oiseau/render';
import { SHIPPED_PRESETS, type Deliverable } from '@oiseau/album/model';
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

/** `oiseau render ALBUM.json --out DIR [--only NAME ...] [--preset NAME ...] [--outside]` */
export async function render(
  path: string,
  out: string,
  { outside, ...choice }: Choice & { readonly outside: boolean },
  report: (line: string) => void,
): Promise<ExitStatus> {
  // Their program lies beside this one; they get going while the album is opened.
  const threads = new Threads(fileURLToPath(new URL('render-thread.mjs', import.meta.url)), undefined, true);
  try {
    return await renderOpened(await openAlbum(path, outside), out, choice, threads, report);
  } finally {
    await threads.close();
  }
}

async function renderOpened(
  opened: AlbumOnDisk,
  out: string,
  choice: Choice,
  threads: Threads,
  report: (line: string) => void,
): Promise<ExitStatus> {
  const chosen = choose(opened.album.deliverables, choice);
  const album = { ...opened.album, deliverables: [...chosen] };
  const { parts, masters } = opened;
  try {
    const subject = subjectOf({ ...opened, album });
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
      report(`${deliverable.name}: ${proof.proved ? 'verified' : 'FAILED verification, see proof.json'}`);
      if (!proof.proved) status = 1;
    }
    return status;
  } catch (error) {
    if (isDiskFull(error))
      throw new UsageError(`${out}: the disk is full. Incomplete files were removed.`, { cause: error });
    if (error instanceof UsageError) throw error;
    if (error instanceof Failure) throw new UsageError(error.message, { cause: error });
    if (systemCode(error))
      throw new UsageError(`${out}: could not be written (${systemCode(error)}).`, { cause: error });
    throw error;
  } finally {
    await opened.close();
  }
}

/** Deliverables named in the call. */
interface Choice {
  /** Of the album file; none: all of them. */
  readonly only: readonly string[];
  /** Presets that ship; with them and without `only`, the presets alone. */
  readonly presets: readonly string[];
}

function choose(all: readonly Deliverable[], { only, presets }: Choice): readonly Deliverable[] {
  const named =
    (name: string) =>
    (deliverable: Deliverable): boolean =>
      deliverable.name === name;
  const unknown = (wanted: readonly string[], known: readonly Deliverable[]): string[] =>
    wanted.filter((name) => !known.some(named(name)));
  const namesOf = (known: readonly Deliverable[]): string => known.map(({ name }) => name).join(', ');
  const notThere = unknown(only, all);
  if (notThere.length > 0)
    throw new UsageError(`--only ${notThere.join(', ')}: no such deliverable. Available: ${namesOf(all)}.`);
  const noPreset = unknown(presets, SHIPPED_PRESETS);
  if (noPreset.length > 0)
    throw new UsageError(
      `--preset ${noPreset.join(', ')}: no such preset. Available: ${namesOf(SHIPPED_PRESETS)}.`,
    );
  const twice = presets.find((name) => all.some(named(name)));
  if (twice !== undefined)
    throw new UsageError(`--preset ${twice}: the album file has a deliverable of this name.`);
  const of = only.length > 0 ? all.filter(({ name }) => only.includes(name)) : presets.length > 0 ? [] : all;
  const chosen = [...of, ...SHIPPED_PRESETS.filter(({ name }) => presets.includes(name))];
  if (chosen.length === 0) throw new UsageError('The album file has no deliverables.');
  return chosen;
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
