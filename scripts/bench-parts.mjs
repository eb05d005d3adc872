// An album of 11 discs, 160 tracks and 12 hours, of real files: how Sequence answers, what its tab holds, and what a render of all of it takes.
import { readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { makeMaster, renderAlone } from './bench-audio.mjs';
import { round, tabMemory, untilDrawn } from './bench-page.mjs';
import { sequence } from './bench-sequence.mjs';
import { apiOf, signIn } from './api.ts';
import { CHROMIUM_FLAGS } from './chromium.ts';
import { runApplication } from './run.ts';
import { findProgram } from './system.ts';

const TRACKS = 160;
const DISCS = 11;
const SECONDS = 270;
/** Tracks on all discs but the last. */
const ON_A_DISC = Math.ceil(TRACKS / DISCS);

/** A hundred and sixty masters that fill twelve hours: one made, the others like it but for their first words. */
async function makeMasters(folder) {
  const first = join(folder, 'track 001.wav');
  await makeMaster(first, 44_100, SECONDS, 'pcm_s16le');
  const bytes = await readFile(first);
  const names = Array.from({ length: TRACKS }, (_, i) => `track ${String(i + 1).padStart(3, '0')}.wav`);
  for (const [i, name] of names.entries()) {
    bytes.writeInt16LE(i, bytes.length - 8);
    await writeFile(join(folder, name), bytes);
  }
  return names;
}

const parts = (medium) => Array.from({ length: DISCS }, (_, i) => ({ medium, first: 1 + i * ON_A_DISC }));

async function albumFile(folder, name, tracks, own) {
  const path = join(folder, name);
  await writeFile(
    path,
    JSON.stringify({
      ...{ format: 'oiseau-album', version: 1, title: 'Twelve hours', parts: own },
      tracks: tracks.map((master, i) => ({ master, title: `Chapter ${i + 1}` })),
      deliverables: [{ name: 'image', kind: 'cue' }],
    }),
  );
  return path;
}

/** @param folder has room for some 25 GB */
export async function severalParts(folder) {
  const names = await makeMasters(folder);
  const whole = await albumFile(folder, 'whole.json', names, parts('cd'));
  const one = await albumFile(folder, 'one.json', names.slice(0, ON_A_DISC), []);
  const data = join(folder, 'data');
  const application = await runApplication({ data, port: 0, workers: 2 });
  const { chromium } = await import('@playwright/test');
  const browser = await chromium.launch({ executablePath: findProgram('chromium'), args: CHROMIUM_FLAGS });
  let views;
  try {
    const { call, CONTRACT } = apiOf(application);
    const given = {};
    const { id: holder } = await call(CONTRACT.createAlbum, { body: { title: 'Holder' } });
    for (const name of names) {
      const file = await readFile(join(folder, name));
      const sent = await call(CONTRACT.sendMaster, { params: { id: holder }, query: { name } }, { file });
      given[name] = sent.sha256;
    }
    const begun = performance.now();
    const file = await readFile(whole, 'utf8');
    const { id } = await call(CONTRACT.importAlbum, { body: { file, masters: given } });
    for (;;) {
      const all = await call(CONTRACT.masters, { params: { id }, query: {} });
      if (all.every(({ measurement }) => measurement)) break;
      await new Promise((resolve) => setTimeout(resolve, 2000));
    }
    const measuredSeconds = (performance.now() - begun) / 1000;
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    await signIn(context, application);
    const page = await context.newPage();
    const address = `${application.url}/albums/${id}/sequence`;
    const answers = await sequence(page, address);
    await page.getByRole('button', { name: 'Parts' }).click();
    await page.getByRole('region', { name: 'Distribute tracks' }).waitFor();
    const spreads = [];
    for (const parts of [12, 13, 14])
      spreads.push(
        await untilDrawn(
          page,
          (count) => {
            const select = document.querySelector('[aria-label="On at least so many"]');
            const set = Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set;
            set.call(select, String(count));
            select.dispatchEvent(new Event('change', { bubbles: true }));
          },
          parts,
        ),
      );
    views = {
      measuredSeconds: round(measuredSeconds),
      ...answers,
      spreadMs: spreads.map(round),
      tabMb: await tabMemory(),
    };
  } finally {
    await browser.close();
    await application.stop();
    await rm(data, { recursive: true, force: true });
  }
  return {
    discs: DISCS,
    tracks: TRACKS,
    hours: round((TRACKS * SECONDS) / 3600),
    ...views,
    renderOneDisc: await renderAlone(one, join(folder, 'one')),
    renderAll: await renderAlone(whole, join(folder, 'all')),
  };
}
