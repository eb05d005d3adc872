// npm run bench: how fast and how large, medians of three. Prints each figure beside its aim and the last run's, keeps the results as JSON; fails no build.
import { mkdir, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { availableParallelism, cpus, tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  againstCopying,
  fullDisc,
  imageFrom,
  measuring,
  sitting,
  treating,
  MINUTES,
} from './bench-audio.mjs';
import { medianOfThree, standing } from './bench-aims.mjs';
import { severalParts } from './bench-parts.mjs';
import { views } from './bench-views.mjs';
import { ensureBuilt, ROOT } from './build.mjs';
import { installMissing, NEEDED_FOR_TESTS } from './system.ts';

/** `npm run bench -- measuring views` runs only those. */
const wanted = process.argv.slice(2);
const asked = (name) => wanted.length === 0 || wanted.includes(name);

installMissing(NEEDED_FOR_TESTS);
await ensureBuilt();
/** Where results are kept, a file for each run. */
const KEPT = join(ROOT, 'bench-results');
/** What each work had when it was measured last on this machine; null where nothing was. */
async function lastResults() {
  const names = (await readdir(KEPT).catch(() => [])).filter((name) => name.endsWith('.json')).sort();
  if (names.length === 0) return null;
  const all = await Promise.all(
    names.map(async (name) => JSON.parse(await readFile(join(KEPT, name), 'utf8'))),
  );
  return Object.assign({}, ...all);
}

const folder = await mkdtemp(join(tmpdir(), 'oiseau-bench-'));
try {
  const results = {
    machine: {
      cores: availableParallelism(),
      processor: cpus()[0]?.model ?? 'unknown',
      node: process.versions.node,
    },
    programme: `${MINUTES} minutes, stereo, 24 bit, to a 16-bit image with triangular dither`,
    ...(asked('from96kHz') && {
      from96kHz: await medianOfThree(
        () => imageFrom(folder, 96_000),
        (run) => run.ratioToFfmpegBest,
      ),
    }),
    ...(asked('sitting') && {
      sitting: await medianOfThree(
        () => sitting(folder, 96_000),
        (run) => run.ratio,
      ),
    }),
    ...(asked('againstCopying') && {
      againstCopying: await medianOfThree(
        () => againstCopying(folder),
        (run) => run.ratio,
      ),
    }),
    ...(asked('from44kHz') && {
      from44kHz: await medianOfThree(
        () => imageFrom(folder, 44_100),
        (run) => run.ratioToFfmpegBest,
      ),
    }),
    ...(asked('measuring') && {
      measuring: await medianOfThree(
        () => measuring(folder, 96_000),
        (run) => run.ratioToFfmpeg,
      ),
    }),
    ...(asked('treating') && {
      treating: await medianOfThree(
        () => treating(folder),
        (run) => run.ratioToFfmpeg,
      ),
    }),
    ...(asked('fullDisc') && { fullDisc: await fullDisc(folder) }),
    ...(asked('views') && { views: await views() }),
    // Twelve hours take some 25 GB and a quarter of an hour: only when they are asked for by name.
    ...(wanted.includes('parts') && { parts: await severalParts(folder) }),
  };
  const last = await lastResults();
  console.log(JSON.stringify(results, null, 2));
  const beside = standing(results, last);
  if (beside) console.log(`\n${beside}`);
  await mkdir(KEPT, { recursive: true });
  await writeFile(
    join(KEPT, `${new Date().toISOString().replaceAll(':', '-')}.json`),
    JSON.stringify(results, null, 2),
  );
} finally {
  await rm(folder, { recursive: true, force: true });
}
