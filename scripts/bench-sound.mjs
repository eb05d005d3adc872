// How quickly Sound answers: a swap to the ear, a band that is dragged to the ear, frames a second while it is drawn.
import { spawnSync } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { apiOf } from './api.ts';
import { frames, median, round } from './bench-page.mjs';

/** Taps everything that the page plays with an analyser, before anything is played. */
const tap = () => {
  const { connect } = AudioNode.prototype;
  AudioNode.prototype.connect = function (to, ...rest) {
    if (to === this.context.destination && !window.tapped) {
      window.tapped = new AnalyserNode(this.context, { fftSize: 512, smoothingTimeConstant: 0 });
      connect.call(this, window.tapped);
    }
    return connect.call(this, to, ...rest);
  };
};

/** Milliseconds from an act until the level of the lows (under about 300 Hz) that is played is on the other side of −45 dB. */
const untilHeard = (page, source, argument) =>
  page.evaluate(
    ([act, value]) =>
      new Promise((resolve) => {
        const bins = new Float32Array(window.tapped.frequencyBinCount);
        const low = () => {
          window.tapped.getFloatFrequencyData(bins);
          return Math.max(bins[1], bins[2], bins[3]) > -45;
        };
        const before = low();
        const started = performance.now();
        new Function('value', `return (${act})(value)`)(value);
        const look = () => {
          if (low() !== before) resolve(performance.now() - started);
          else if (performance.now() - started > 3000) resolve(NaN);
          else setTimeout(look, 1);
        };
        look();
      }),
    [source.toString(), argument],
  );

const press = (key) =>
  window.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));

/** An album of one song: a steady low tone and a high one, so that what is heard can be told at any moment. */
async function makeAlbum(application, folder) {
  const { call, CONTRACT } = apiOf(application);
  const { id } = await call(CONTRACT.createAlbum, { body: { title: 'Two tones' } });
  const params = { id };
  const path = join(folder, 'tones.wav');
  const tones = 'aevalsrc=0.2*sin(2*PI*150*t)+0.1*sin(2*PI*3000*t):s=44100:d=120';
  spawnSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', tones, '-ac', '2', path]);
  const query = { name: 'tones.wav' };
  const file = await readFile(path);
  const { sha256: master } = await call(CONTRACT.sendMaster, { params, query }, { file });
  const { version, album } = await call(CONTRACT.album, { params });
  const fade = { length: 0, shape: 'linear' };
  const region = {
    ...{ master, in: 0, out: null, gapBefore: 2 * 705_600_000, gainDb: 0 },
    fadeIn: fade,
    fadeOut: fade,
  };
  const marks = { indexes: [], markLead: null, pauseDelay: null, tempo: null };
  const words = { performer: '', songwriter: '', composer: '', arranger: '', message: '', isrc: '' };
  const song = {
    ...{ id: 't', numbered: true, title: 'Tones', copyPermitted: false, preEmphasis: false },
    ...words,
  };
  await call(CONTRACT.saveAlbum, {
    params,
    body: { version, album: { ...album, songs: [{ ...song, region, marks }] } },
  });
  return id;
}

/** @param folder for a master that is made */
export async function sound(page, application, folder) {
  const id = await makeAlbum(application, folder);
  await page.addInitScript(tap);
  await page.goto(`${application.url}/albums/${id}/sound`);
  await page.getByRole('button', { name: 'Add the limiter' }).click();
  await page.getByRole('button', { name: 'Add the compressor' }).click();
  await page.keyboard.press('b');
  await page.getByLabel('Kind of band 1').selectOption('Low cut');
  await page.getByLabel('Slope').selectOption('24');
  const frequency = page.getByRole('textbox', { name: 'Frequency' });
  await frequency.fill('800');
  await frequency.press('Enter');
  await page.waitForTimeout(1000);
  await page.locator('.sound-column li button').first().press('Enter');
  await page.waitForTimeout(4000);
  const swaps = [];
  for (let i = 0; i < 12; i++) {
    swaps.push(await untilHeard(page, press, 'c'));
    await page.waitForTimeout(400);
  }
  // The band is dragged from where it cuts the lows to where it lets them through, and held there.
  const handle = page.locator('.band-handle').first();
  const drags = [];
  for (let i = 0; i < 8; i++) {
    drags.push(
      await handle.evaluate(
        (element, [measure, act]) => {
          const untilHeard = new Function(`return ${measure}`)();
          return untilHeard(
            { evaluate: (run, given) => run(given) },
            new Function(`return ${act}`)(),
            element,
          );
        },
        [untilHeard.toString(), dragAway.toString()],
      ),
    );
    await page.waitForTimeout(700);
    await page.keyboard.press('Escape');
    await page.waitForTimeout(900);
  }
  const box = await handle.boundingBox();
  await page.mouse.move(box.x + 12, box.y + 12);
  await page.mouse.down();
  const drawn = await frames(page, async () => {
    for (let i = 0; i < 120; i++) await page.mouse.move(box.x + 12 - 2 * (i % 60), box.y + 12 + (i % 7));
  });
  await page.keyboard.press('Escape');
  await page.mouse.up();
  return {
    swapHeardMs: { median: round(median(swaps)), most: round(Math.max(...swaps)) },
    dragHeardMs: { median: round(median(drags)), most: round(Math.max(...drags)) },
    drawnWhileDragged: drawn,
    soundBrokeOff: (await page.getByText('The sound broke off').count()) > 0,
  };
}

/** A pointer takes hold of a handle and moves it far to the left. */
function dragAway(element) {
  const { x, y } = element.getBoundingClientRect();
  const at = (type, by) =>
    element.dispatchEvent(
      new PointerEvent(type, {
        ...{ pointerId: 1, button: 0, buttons: 1, bubbles: true, cancelable: true },
        ...{ clientX: x + 12 - by, clientY: y + 12 },
      }),
    );
  element.setPointerCapture = () => undefined;
  at('pointerdown', 0);
  at('pointermove', 20);
  at('pointermove', 400);
}
