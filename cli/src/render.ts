import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { checkEditions, errorsFor } from '@oiseau/checks';
import { Failure } from '@oiseau/audio/errors';
import { layOutDeliverable } from '@oiseau/album/layout';
import { planDeliverable, type Plan, type RenderInput } from '@oiseau/render';
import { editionNameOf, isOfDraft, SHIPPED_PRESETS, type Album, type Deliverable } from '@oiseau/album/model';
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
import { demandEdition, findingLine, subjectOf } from './check.js';
import { UsageError, type ExitStatus } from './exit.js';
import { demandGoingOn } from './interrupt.js';

/** The command line renders an album as it stands; numbered revisions belong to the Shelf. */
const REVISION = 1;

/** `oiseau render ALBUM.json --out DIR [--edition NAME] [--only NAME ...] [--preset NAME ...] [--outside]` */
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
  const { masters } = opened;
  try {
    const { chosen, album } = chooseFrom(opened.album, choice);
    const errors = errorLines({ ...opened, album }, chosen);
    if (errors.length > 0) {
      errors.forEach(report);
      return 1;
    }
    const cover = opened.cover && (await embeddedCover(opened.cover.path));
    const at = opened.cover?.path;
    const picture: RenderInput['picture'] = (form, pixels) => shopCover(at ?? '', form, pixels);
    demandGoingOn();
    await makeFolder(out);
    let status: ExitStatus = 0;
    for (const deliverable of chosen) {
      const { plan, parts } = planOf({ ...opened, album }, deliverable);
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

/** What a deliverable of an album on disk writes, and the parts that it is made of. */
export function planOf(
  { album, masters, revisionDate }: AlbumOnDisk,
  deliverable: Deliverable,
): { readonly plan: Plan; readonly parts: AlbumOnDisk['parts'] } {
  const laidOut = layOutDeliverable(album, deliverable, masters);
  const plan = planDeliverable(deliverable, { ...laidOut, masters, revision: REVISION, revisionDate });
  return { plan, parts: laidOut.parts };
}

/** The errors that keep some of an album's deliverables from being rendered, a line each. */
export function errorLines(opened: AlbumOnDisk, chosen: readonly Deliverable[]): string[] {
  const names = chosen.map(({ name }) => name);
  const editions = new Set(chosen.map((deliverable) => editionNameOf(opened.album, deliverable)));
  return checkEditions(subjectOf(opened))
    .filter(({ edition }) => edition === null || editions.has(edition))
    .flatMap((group) => errorsFor(group.findings, names).map((finding) => findingLine(group, finding)));
}

/** The deliverables named in a call, and the album with these alone. @throws UsageError for a name that is not there */
export function chooseFrom(
  album: Album,
  choice: Choice,
): { readonly chosen: readonly Deliverable[]; readonly album: Album } {
  const edition = choice.edition === null ? null : demandEdition(album, choice.edition);
  const chosen = choose(album.deliverables, choice)
    // Presets name no edition: they belong to the requested one.
    .map((each) => (edition !== null && !album.deliverables.includes(each) ? { ...each, edition } : each))
    .filter((each) => (edition === null ? !isOfDraft(album, each) : editionNameOf(album, each) === edition));
  if (chosen.length === 0)
    throw new UsageError(
      edition === null
        ? 'All deliverables are of drafts. Name one with --edition to render it.'
        : `Edition “${edition}” has no such deliverables.`,
    );
  return { chosen, album: { ...album, deliverables: [...chosen] } };
}

/** Deliverables named in the call. */
export interface Choice {
  /** Only those of this edition; null: of all. */
  readonly edition: string | null;
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
