// What grows with an album and with the time that it is open: 160 tracks in 11 parts, 500 masters, an hour of work.
import { apiOf } from './api.ts';
import { frames, median, round, tabMemory, untilDrawn } from './bench-page.mjs';

const press = (key, held = {}) => ({ key, bubbles: true, cancelable: true, ...held });
const onKey = (init) => window.dispatchEvent(new KeyboardEvent('keydown', init));
const LATER = press('ArrowRight', { altKey: true });
const EARLIER = press('ArrowLeft', { altKey: true });

/** An edit on an album of 160 songs on 11 discs, made of another album’s masters. @param id of that album, open on the page */
export async function elevenParts(application, page, id) {
  const { call, CONTRACT } = apiOf(application);
  const params = { id };
  const { version, album } = await call(CONTRACT.album, { params });
  const songs = Array.from({ length: 160 }, (_, i) => ({
    ...album.songs[i % album.songs.length],
    ...{ id: `s${i}`, title: `Piece ${i + 1}` },
  }));
  const parts = Array.from({ length: 11 }, (_, i) => ({
    ...{ medium: 'cd', first: `s${i * 15}`, title: '', upc: '', limit: null },
  }));
  await call(CONTRACT.saveAlbum, { params, body: { version, album: { ...album, songs, parts } } });
  await page.goto(`${application.url}/albums/${id}/sequence`);
  await page.locator('.track-table tr.track').nth(159).waitFor({ state: 'attached' });
  await page.waitForTimeout(3000);
  await page.evaluate(onKey, press('n'));
  await page.waitForTimeout(500);
  const edits = [];
  for (let i = 0; i < 11; i++) {
    edits.push(await untilDrawn(page, onKey, LATER));
    await page.waitForTimeout(600);
  }
  return { editMs: round(median(edits)), mostMs: round(Math.max(...edits)) };
}

/** A second of 16-bit noise, another one for each seed. */
function noise(seed) {
  const rate = 44_100;
  const head = Buffer.alloc(44);
  head.write('RIFF', 0);
  head.writeUInt32LE(36 + 4 * rate, 4);
  head.write('WAVEfmt ', 8);
  head.writeUInt32LE(16, 16);
  head.writeUInt16LE(1, 20);
  head.writeUInt16LE(2, 22);
  head.writeUInt32LE(rate, 24);
  head.writeUInt32LE(4 * rate, 28);
  head.writeUInt16LE(4, 32);
  head.writeUInt16LE(16, 34);
  head.write('data', 36);
  head.writeUInt32LE(4 * rate, 40);
  let state = seed + 1;
  const words = Int16Array.from({ length: 2 * rate }, () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) | 0;
    return state >> 18;
  });
  return Buffer.concat([head, Buffer.from(words.buffer)]);
}

/** Scrolling through 500 masters. */
export async function manyMasters(application, page) {
  const { call, CONTRACT } = apiOf(application);
  const { id } = await call(CONTRACT.createAlbum, { body: { title: 'Five hundred' } });
  for (let i = 0; i < 500; i++)
    await call(
      CONTRACT.sendMaster,
      { params: { id }, query: { name: `${String(i + 1).padStart(3, '0')} take.wav` } },
      { file: noise(i) },
    );
  for (;;) {
    const all = await call(CONTRACT.masters, { params: { id }, query: { curves: 'false' } });
    if (all.every(({ measurement }) => measurement)) break;
    await new Promise((resolve) => setTimeout(resolve, 1000));
  }
  await page.goto(`${application.url}/albums/${id}/masters`);
  await page.waitForFunction(
    () => Number(document.querySelector('.master-table')?.getAttribute('aria-rowcount')) === 501,
  );
  await page.waitForTimeout(3000);
  await page.mouse.move(640, 500);
  return frames(page, async () => {
    for (let i = 0; i < 80; i++) await page.mouse.wheel(0, i < 40 ? 400 : -400);
  });
}

/** Edits of an hour of work, one every six seconds or so, with views that come and go between them. */
const EDITS = 600;
const EDITS_TO_A_VIEW = 40;

/** Memory of the tab before and after an hour of work in a hurry, MB. @param address of an album */
export async function hourOfWork(page, address) {
  const open = async (view) => {
    await page.goto(`${address}/${view}`);
    await page.waitForTimeout(2500);
  };
  await open('sequence');
  const client = await page.context().newCDPSession(page);
  const settled = async () => {
    await client.send('HeapProfiler.collectGarbage');
    await page.waitForTimeout(500);
    const { metrics } = await client.send('Performance.getMetrics');
    return {
      heapMb: round(metrics.find(({ name }) => name === 'JSHeapUsedSize').value / 1e6),
      tabMb: await tabMemory(),
    };
  };
  await client.send('Performance.enable');
  await page.evaluate(onKey, press('n'));
  const before = await settled();
  for (let i = 0; i < EDITS; i++) {
    await page.evaluate(onKey, i % 2 === 0 ? LATER : EARLIER);
    await page.waitForTimeout(50);
    if (i % EDITS_TO_A_VIEW !== EDITS_TO_A_VIEW - 1) continue;
    await page.waitForTimeout(700);
    // By keys, so that the page stays the same.
    for (const key of ['1', '4', '2']) {
      await page.evaluate(onKey, press(key));
      await page.waitForTimeout(700);
    }
  }
  await page.waitForTimeout(1500);
  return { edits: EDITS, before, after: await settled() };
}
