// How quickly Sequence answers: first paint, an edit, panning and zooming, hearing a transition.
import { frames, median, round, untilDrawn } from './bench-page.mjs';

const press = (key, held = {}) => ({ key, bubbles: true, cancelable: true, ...held });
const onKey = (init) => window.dispatchEvent(new KeyboardEvent('keydown', init));

/** After so long a view that was opened has nothing left to do. */
const SETTLED_MS = 2500;

/**
 * Milliseconds from the navigation until the largest thing of the view is on the screen, as the browser itself has noted it. Nothing polls
 * meanwhile, since every question takes a part of the time that is measured.
 */
async function firstPaint(page, address) {
  await page.goto('about:blank');
  await page.goto(address, { waitUntil: 'commit' });
  await page.waitForTimeout(SETTLED_MS);
  return page.evaluate(async () => {
    const painted = (selector) => {
      const canvas = document.querySelector(selector);
      const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
      return data.some((value) => value > 0);
    };
    if (!document.querySelector('.track-table tr.track td')) throw new Error('The track table has no rows.');
    if (!painted('.skyline canvas') || !painted('.bench-picture canvas'))
      throw new Error('The Skyline or the Bench is empty.');
    const { startTime } = await new Promise((resolve) => {
      const told = (list) => resolve(list.getEntries().at(-1));
      new PerformanceObserver(told).observe({ type: 'largest-contentful-paint', buffered: true });
    });
    return startTime;
  });
}

/** Milliseconds from the key until the meter in the transport shows sound. */
async function audition(page) {
  const heard = await page.evaluate(
    (init) =>
      new Promise((resolve) => {
        const started = performance.now();
        const look = () => {
          const peak = document.querySelector('.meters dd')?.textContent;
          if (peak && peak !== '–') resolve(performance.now() - started);
          else setTimeout(look, 2);
        };
        window.dispatchEvent(new KeyboardEvent('keydown', init));
        setTimeout(look, 2);
      }),
    press('t'),
  );
  await page.waitForTimeout(300);
  await page.evaluate(onKey, press('t'));
  await page.waitForTimeout(200);
  return heard;
}

/** @param address of the album's Sequence */
export async function sequence(page, address) {
  const cold = await firstPaint(page, address);
  const paints = [];
  for (let i = 0; i < 5; i++) paints.push(await firstPaint(page, address));
  await page.evaluate(onKey, press('n'));
  await page.waitForTimeout(500);

  const edits = [];
  for (let i = 0; i < 11; i++) {
    edits.push(await untilDrawn(page, onKey, press('ArrowRight', { altKey: true })));
    await page.waitForTimeout(600);
  }
  const wheelOver = async (selector, deltas) => {
    const box = await page.locator(selector).boundingBox();
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    return frames(page, async () => {
      for (const [x, y] of deltas) await page.mouse.wheel(x, y);
    });
  };
  const inAndOut = (n) => Array.from({ length: n }, (_, i) => [0, i < n / 2 ? -100 : 100]);
  const skylineZoom = await wheelOver('.skyline canvas', inAndOut(60));
  await page.mouse.wheel(0, -100);
  for (let i = 0; i < 12; i++) await page.mouse.wheel(0, -100);
  const skylinePan = await wheelOver(
    '.skyline canvas',
    Array.from({ length: 80 }, (_, i) => [i % 40 < 20 ? 60 : -60, 0]),
  );
  const benchZoom = await wheelOver('.bench-picture canvas', inAndOut(40));

  const auditions = [];
  for (let i = 0; i < 7; i++) {
    auditions.push(await audition(page));
    await page.evaluate(onKey, press('n'));
    await page.waitForTimeout(400);
  }
  return {
    firstPaintMs: { cold: round(cold), warm: round(median(paints)), all: paints.map(round) },
    editMs: { median: round(median(edits)), most: round(Math.max(...edits)) },
    skylineZoom,
    skylinePan,
    benchZoom,
    auditionMs: { median: round(median(auditions)), all: auditions.map(round) },
  };
}
