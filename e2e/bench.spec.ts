import { withSong } from '@oiseau/album/testing';
import { secondsToTicks } from '@oiseau/audio/time';
import { expect, type Page } from '@playwright/test';
import { HEARD, test } from './installation.js';
import {
  benchField,
  drag,
  inSeconds as s,
  makeAlbum,
  openSecondTransition,
  saved,
  serverTracks,
  typeInto,
  wavFile,
} from './support.js';

/** Two songs of 12 s, 2 s apart, with their transition on the Bench: 15 s in sight, the end of the first in the middle. */
async function openBench(
  page: Page,
): Promise<{ id: string; at: Awaited<ReturnType<typeof openSecondTransition>> }> {
  const id = await makeAlbum(
    'Bench',
    [wavFile('a.wav', 1, 12), wavFile('b.wav', 2, 12), wavFile('c.wav', 3, 8)],
    (album) => withSong(album, 0, { out: secondsToTicks(10) }),
  );
  return { id, at: await openSecondTransition(page, id) };
}

test('the out point is dragged, and what follows moves along', async ({ page }) => {
  const { id, at } = await openBench(page);
  await drag(page, [at(12).x, at(12).top], [at(13).x, at(13).top]);
  // 10 + 1 s, on a frame of 1/75 s
  expect(s((await serverTracks(id))[0]?.out)).toBeCloseTo(11, 1);
  expect(s((await serverTracks(id))[1]?.gapBefore)).toBe(2);
  await expect(benchField(page, 'Out point')).toHaveValue(/^0:1[01]\.\d{3}$/);
});

test('the in point is dragged, and the sound stays where it is', async ({ page }) => {
  const { id, at } = await openBench(page);
  await drag(page, [at(14).x, at(14).bottom], [at(15.5).x, at(15.5).bottom]);
  const [, second, third] = await serverTracks(id);
  expect(s(second?.in)).toBeCloseTo(1.5, 1);
  expect(s((second?.gapBefore ?? 0) - (second?.in ?? 0))).toBe(2);
  expect(s(third?.gapBefore)).toBe(2);
});

test('the gap is dragged below nothing, which makes an overlap, and Escape takes a drag back', async ({
  page,
}) => {
  const { id, at } = await openBench(page);
  await page.mouse.move(at(16).x, at(16).bottom);
  await page.mouse.down();
  await page.mouse.move(at(13).x, at(13).bottom, { steps: 5 });
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await expect(benchField(page, 'Gap')).toHaveValue('2 s');
  await drag(page, [at(16).x, at(16).bottom], [at(13).x, at(13).bottom]);
  expect(s((await serverTracks(id))[1]?.gapBefore)).toBeCloseTo(-1, 1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(benchField(page, 'Gap')).toHaveValue('2 s');
});

test('nothing moves by a stray press of three pixels', async ({ page }) => {
  const { id, at } = await openBench(page);
  const before = await serverTracks(id);
  await page.mouse.move(at(16).x, at(16).bottom);
  await page.mouse.down();
  await page.mouse.move(at(16).x + 3, at(16).bottom);
  await page.mouse.up();
  await page.waitForTimeout(600);
  expect(await serverTracks(id)).toEqual(before);
});

test('fades are dragged from the edges, and keep their shapes', async ({ page }) => {
  const { id, at } = await openBench(page);
  await benchField(page, 'Shape of the fade-out').selectOption('cosine');
  const { y, height } = (await page.getByRole('img', { name: 'Transition into track 2' }).boundingBox()) ?? {
    y: 0,
    height: 0,
  };
  await drag(page, [at(12).x, y + 8], [at(10).x, y + 8]);
  await drag(page, [at(14).x, y + height - 26], [at(15).x, y + height - 26]);
  const [first, second] = await serverTracks(id);
  expect(first?.fadeOut.shape).toBe('cosine');
  expect(s(first?.fadeOut.length)).toBeCloseTo(2, 1);
  expect(s(second?.fadeIn.length)).toBeCloseTo(1, 1);
});

test('everything is typed as well: a clean crossfade, the gap, and what follows held in place', async ({
  page,
}) => {
  const { id } = await openBench(page);
  const type = (name: string, text: string): Promise<void> => typeInto(benchField(page, name), text);
  await type('Length of the crossfade', '3');
  await page.getByRole('button', { name: 'Crossfade' }).click();
  await saved(page);
  const [first, second] = await serverTracks(id);
  expect([s(first?.fadeOut.length), s(second?.fadeIn.length), s(second?.gapBefore)]).toEqual([3, 3, -3]);
  expect(first?.fadeOut.shape).toBe('equal-power');
  await page.getByLabel('Keep later tracks in place').check();
  await type('Gap', '-1');
  await saved(page);
  // The second song starts 2 s later, the third where it was: its gap of 2 s is used up.
  const held = await serverTracks(id);
  expect([s(held[1]?.gapBefore), s(held[2]?.gapBefore)]).toEqual([-1, 0]);
  await expect(page.getByRole('button', { name: 'Undo' })).toHaveAttribute(
    'title',
    /gap before “Song 2” −3 s → −1 s/,
  );
});

test('loudness is matched to one track, shown before it is taken, and undone', async ({ page }) => {
  const { id } = await openBench(page);
  await page.getByLabel('Gain of track 1').fill('-4');
  await page.getByLabel('Gain of track 1').press('Enter');
  await page.getByRole('button', { name: 'Levels' }).click();
  const dialog = page.getByRole('region', { name: 'Levels' });
  await dialog.getByLabel('Match to').selectOption('t1');
  // All three are the same noise: two would come down by 4 dB.
  await expect(dialog.getByRole('row', { name: /Song 2/ })).toContainText(/−4\.\d dB|−3\.\d dB/);
  expect((await serverTracks(id)).map(({ gainDb }) => gainDb).slice(1)).toEqual([0, 0]);
  await dialog.getByRole('button', { name: 'Change 2 gains' }).click();
  await expect.poll(async () => (await serverTracks(id))[1]?.gainDb).toBeCloseTo(-4, 0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await serverTracks(id))[1]?.gainDb).toBe(0);
});

test('the levels are no wall: Space plays, the loudest moments are heard, and undo works while they are open', async ({
  page,
}) => {
  const { id } = await openBench(page);
  await page.getByRole('button', { name: 'Levels' }).click();
  const levels = page.getByRole('region', { name: 'Levels' });
  // The Skyline stays where it is.
  await expect(page.getByRole('slider', { name: /^Skyline/ })).toBeVisible();
  await levels.getByRole('heading', { name: 'Levels' }).click();
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Stop', exact: true }).first()).toBeVisible();
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  await page.keyboard.press('l');
  await expect(levels.getByRole('button', { name: 'Stop' })).toBeVisible();
  await page.keyboard.press('l');
  await expect(levels.getByRole('button', { name: 'Play the loudest passages' })).toBeVisible();
  await typeInto(levels.getByLabel('Gain of track 2'), '-3');
  await expect.poll(async () => (await serverTracks(id))[1]?.gainDb).toBe(-3);
  await levels.getByRole('heading', { name: 'Levels' }).click();
  await page.keyboard.press('Control+z');
  await expect(levels.getByLabel('Gain of track 2')).toHaveValue('0.0 dB');
  await page.keyboard.press('Escape');
  await expect(levels).toHaveCount(0);
});

test('quiet sound is seen by a key and by the wheel, with lines of level', async ({ page }) => {
  await openBench(page);
  const bench = page.getByRole('region', { name: 'Bench' });
  const picture = page.getByRole('img', { name: 'Transition into track 2' });
  const ink = (): Promise<number> =>
    picture.evaluate((canvas: HTMLCanvasElement) => {
      const { data } = (canvas.getContext('2d') as CanvasRenderingContext2D).getImageData(
        0,
        0,
        canvas.width,
        canvas.height,
      );
      let dark = 0;
      for (let i = 0; i < data.length; i += 4) if ((data[i] ?? 255) < 60 && (data[i + 3] ?? 0) > 200) dark++;
      return dark;
    });
  await expect.poll(ink).toBeGreaterThan(0);
  const before = await ink();
  await expect(bench.getByTitle('Level at the edges')).toHaveText('0 dB');
  await page.keyboard.press('v');
  await expect(bench.getByTitle('Level at the edges')).toHaveText('−12 dB');
  // The same sound stands higher.
  await expect.poll(ink).toBeGreaterThan(1.2 * before);
  await picture.hover();
  await page.keyboard.down('Shift');
  await page.mouse.wheel(0, -100);
  await page.keyboard.up('Shift');
  await expect(bench.getByTitle('Level at the edges')).toHaveText('−24 dB');
  await page.keyboard.press('Shift+V');
  await page.keyboard.press('Shift+V');
  await expect(bench.getByRole('button', { name: 'Show louder sound' })).toBeDisabled();
});

test('a gain is dragged and typed among the levels, and Escape takes a drag back', async ({ page }) => {
  const { id } = await openBench(page);
  await page.getByRole('button', { name: 'Levels' }).click();
  const dialog = page.getByRole('region', { name: 'Levels' });
  const picture = dialog.locator('td.picture').nth(1);
  // The dialog slides in; it is still when a pointer can come to rest on it.
  await picture.hover();
  const box = (await picture.boundingBox()) ?? { x: 0, y: 0, width: 1, height: 1 };
  const from = box.x + box.width / 2;
  const y = box.y + box.height / 2;
  // The picture is 40 dB wide: an eighth of it is 5 dB.
  await page.mouse.move(from, y);
  await page.mouse.down();
  await page.mouse.move(from - box.width / 8, y, { steps: 5 });
  await expect(dialog.getByLabel('Gain of track 2')).toHaveValue('−5.0 dB');
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await expect(dialog.getByLabel('Gain of track 2')).toHaveValue('0.0 dB');
  await page.mouse.move(from, y);
  await page.mouse.down();
  await page.mouse.move(from - box.width / 8, y, { steps: 5 });
  await page.mouse.up();
  await typeInto(dialog.getByLabel('Gain of track 3'), '-1.5');
  await dialog.getByLabel('Gain of track 3').press('ArrowUp');
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await saved(page);
  const gains = (await serverTracks(id)).map(({ gainDb }) => gainDb);
  expect([gains[0], gains[2]]).toEqual([0, -1.4]);
  expect(gains[1]).toBeCloseTo(-5, 0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Gain of track 3')).toHaveValue('−1.5');
});

test('a track is dragged on the Skyline, a press only plays, and the wheel looks closer', async ({
  page,
}) => {
  const { id } = await openBench(page);
  const titles = async (): Promise<string[]> => (await serverTracks(id)).map(({ title }) => title);
  const box = (await page.locator('.skyline canvas').boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
  // 2 + 10 + 2 + 12 + 2 + 8 = 36 s across the width, less the room behind the lead-out
  const x = (seconds: number): number => box.x + (seconds / 36) * (box.width - 10);
  await page.mouse.move(x(7), box.y + 80);
  await page.mouse.down();
  await page.mouse.move(x(7) + 3, box.y + 80);
  await page.mouse.up();
  await expect(page.getByRole('button', { name: 'Stop', exact: true }).first()).toBeVisible();
  await page.keyboard.press('Space');
  expect(await titles()).toEqual(['Song 1', 'Song 2', 'Song 3']);
  await drag(page, [x(7), box.y + 80], [x(34), box.y + 80]);
  await expect.poll(titles).toEqual(['Song 2', 'Song 3', 'Song 1']);
  await expect(page.getByRole('button', { name: 'Undo' })).toHaveAttribute('title', /“Song 1” from 1 to 3/);
  // A disc of 36 s is seen whole; with a long pause before it there is something to look closer at.
  await page.getByLabel('First pause').first().fill('3:00');
  await page.getByLabel('First pause').first().press('Enter');
  await page.mouse.move(x(30), box.y + 80);
  await page.mouse.wheel(0, -400);
  await page.getByRole('button', { name: 'Show the whole disc' }).click();
  await expect(page.getByRole('button', { name: 'Show the whole disc' })).toHaveCount(0);
});

test(
  'a transition is heard by key, over and over again while it is edited, and all of them one after the other',
  { tag: HEARD },
  async ({ page }) => {
    await openBench(page);
    const place = async (): Promise<number> => {
      const [minutes = '0', seconds = '0'] = (
        await page.getByLabel('Position on the disc', { exact: true }).innerText()
      ).split(':');
      return 60 * Number(minutes) + Number(seconds);
    };
    await page.getByLabel('Seconds around the transition').selectOption('2');
    await page.keyboard.press('l');
    await page.keyboard.press('t');
    // From 10 to 16 s, again and again
    await expect.poll(place).toBeGreaterThan(13);
    await expect.poll(place).toBeLessThan(12);
    await expect(page.getByRole('button', { name: 'Stop', exact: true }).first()).toBeVisible();
    await benchField(page, 'Gap').fill('1');
    await benchField(page, 'Gap').press('Enter');
    await page.waitForTimeout(4000);
    expect(await place()).toBeGreaterThan(9.5);
    expect(await place()).toBeLessThan(15.5);
    await expect(page.getByText('The sound broke off')).toHaveCount(0);
    await page.keyboard.press('t');
    await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
    await page.keyboard.press('a');
    await expect.poll(place).toBeLessThan(6);
    await expect.poll(place).toBeGreaterThan(9);
  },
);
