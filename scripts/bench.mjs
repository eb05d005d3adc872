// npm run bench: how fast and how large. Prints JSON; fails no build.
import { mkdtemp, rm } from 'node:fs/promises';
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
import { severalParts } from './bench-parts.mjs';
import { views } from './bench-views.mjs';
import { ensureBuilt } from './build.mjs';
import { installMissing, installPackages, NEEDED_FOR_TESTS } from './system.mjs';

/** `npm run bench -- measuring views` runs only those. */
const wanted = process.argv.slice(2);
const asked = (name) => wanted.length === 0 || wanted.includes(name);

installMissing(NEEDED_FOR_TESTS);
await installPackages();
await ensureBuilt();
const folder = await mkdtemp(join(tmpdir(), 'oiseau-bench-'));
try {
  const results = {
    machine: {
      cores: availableParallelism(),
      processor: cpus()[0]?.model ?? 'unknown',
      node: process.versions.node,
    },
    programme: `${MINUTES} minutes, stereo, 24 bit, to a 16-bit image with triangular dither`,
    ...(asked('from96kHz') && { from96kHz: await imageFrom(folder, 96_000) }),
    ...(asked('sitting') && { sitting: await sitting(folder, 96_000) }),
    ...(asked('againstCopying') && { againstCopying: await againstCopying(folder) }),
    ...(asked('from44kHz') && { from44kHz: await imageFrom(folder, 44_100) }),
    ...(asked('measuring') && { measuring: await measuring(folder, 96_000) }),
    ...(asked('treating') && { treating: await treating(folder) }),
    ...(asked('fullDisc') && { fullDisc: await fullDisc(folder) }),
    ...(asked('views') && { views: await views() }),
    // Twelve hours take some 25 GB and a quarter of an hour: only when they are asked for by name.
    ...(wanted.includes('parts') && { parts: await severalParts(folder) }),
  };
  console.log(JSON.stringify(results, null, 2));
} finally {
  await rm(folder, { recursive: true, force: true });
}
