// How quickly the views answer: traced in headless Chromium on a running application with a made-up album of 99 masters.
import { spawnSync } from 'node:child_process';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { frames, round, untilDrawn } from './bench-page.mjs';
import { elevenParts, hourOfWork, manyMasters } from './bench-long.mjs';
import { sequence } from './bench-sequence.mjs';
import { sleeve } from './bench-sleeve.mjs';
import { sound } from './bench-sound.mjs';
import { ROOT } from './build.mjs';
import { apiOf, signIn } from './api.ts';
import { CHROMIUM_FLAGS } from './chromium.ts';
import { runApplication } from './run.ts';
import { findProgram } from './system.ts';

const TRACKS = 99;
const SECONDS = 46;

/** An album of 99 masters of 46 s, two seconds apart: 79 minutes. */
async function makeAlbum(application, folder) {
  const { call, CONTRACT } = apiOf(application);
  const { id } = await call(CONTRACT.createAlbum, { body: { title: 'Ninety-nine' } });
  const params = { id };
  const masters = [];
  for (let i = 0; i < TRACKS; i++) {
    const path = join(folder, 'master.wav');
    const tone = `sine=${200 + 7 * i}:r=44100:d=${SECONDS},tremolo=f=${1 + (i % 5)}:d=0.9`;
    spawnSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', tone, '-ac', '2', path]);
    const query = { name: `${i + 1} piece.wav` };
    const file = await readFile(path);
    masters.push((await call(CONTRACT.sendMaster, { params, query }, { file })).sha256);
  }
  const { version, album } = await call(CONTRACT.album, { params });
  const fade = { length: 0, shape: 'linear' };
  const words = { performer: '', songwriter: '', composer: '', arranger: '', message: '', isrc: '' };
  const songs = masters.map((master, i) => ({
    ...{ id: `t${i}`, numbered: true, title: `Piece ${i + 1}`, ...words },
    ...{ copyPermitted: false, preEmphasis: false },
    region: {
      ...{ master, in: 0, out: null, gapBefore: 2 * 705_600_000, gainDb: 0 },
      ...{ fadeIn: fade, fadeOut: fade },
    },
    marks: { indexes: [], markLead: null, pauseDelay: null, tempo: null },
  }));
  await call(CONTRACT.saveAlbum, { params, body: { version, album: { ...album, songs } } });
  for (;;) {
    const all = await call(CONTRACT.masters, { params, query: {} });
    if (all.every(({ measurement }) => measurement)) return id;
    await new Promise((resolve) => setTimeout(resolve, 1000));
  }
}

export async function views() {
  const data = await mkdtemp(join(tmpdir(), 'oiseau-bench-views-'));
  const application = await runApplication({ data, port: 0, workers: 2 });
  const { chromium } = await import('@playwright/test');
  const browser = await chromium.launch({ executablePath: findProgram('chromium'), args: CHROMIUM_FLAGS });
  try {
    const id = await makeAlbum(application, data);
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    await signIn(context, application);
    const page = await context.newPage();
    await page.goto(`${application.url}/albums/${id}/masters`);
    await page.waitForFunction(
      (n) => Number(document.querySelector('.master-table')?.getAttribute('aria-rowcount')) === n + 1,
      TRACKS,
    );
    await page.waitForTimeout(2000);
    const sorts = [];
    for (const name of ['Loudness', 'Length', 'Concerns', 'File'])
      sorts.push(
        await untilDrawn(
          page,
          (wanted) =>
            [...document.querySelectorAll('.sort-button')].find((b) => b.textContent === wanted).click(),
          name,
        ),
      );
    await page.mouse.move(640, 500);
    const scroll = await frames(page, async () => {
      for (let i = 0; i < 60; i++) await page.mouse.wheel(0, i < 30 ? 150 : -150);
    });
    const sequences = {};
    spawnSync(process.execPath, [join(ROOT, 'dist/demo.mjs'), application.url, application.keyFile], {
      stdio: 'ignore',
    });
    const { call, CONTRACT } = apiOf(application);
    const { albums } = await call(CONTRACT.shelf, { query: {} });
    for (const { id: each, title } of albums.filter(({ title: of }) => of !== 'Carillon, Low Water'))
      sequences[title] = await sequence(page, `${application.url}/albums/${each}/sequence`);
    const heard = await sound(page, application, data);
    const words = await sleeve(page, `${application.url}/albums/${id}`, TRACKS);
    const hour = await hourOfWork(page, `${application.url}/albums/${id}`);
    const parts = await elevenParts(application, page, id);
    const many = await manyMasters(application, page);
    return {
      ...{ masters: TRACKS, sortMs: sorts.map(round), scroll, sequences, sound: heard, sleeve: words },
      ...{ hourOfWork: hour, elevenParts: parts, manyMasters: many },
    };
  } finally {
    await browser.close();
    await application.stop();
    await rm(data, { recursive: true, force: true });
  }
}
