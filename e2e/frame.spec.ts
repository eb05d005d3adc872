import { CONTRACT } from '@oiseau/api';
import { expect } from '@playwright/test';
import { test } from './installation.js';
import { call, makeAlbum, url, wavFile } from './support.js';

test('a view that can’t be shown says so, and leaves the rest working', async ({ page }) => {
  const id = await makeAlbum('Broken view', [wavFile('a.wav', 151, 4)]);
  await page.route('**/assets/SleeveView*.js', (route) => route.abort());
  await page.goto(url(`/albums/${id}/sequence`));
  await page.getByRole('link', { name: /Sleeve/ }).click();
  await expect(page.getByRole('alert')).toContainText('This view stopped working.');
  // The player, the steps and the other views go on.
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeEnabled();
  await page.getByRole('link', { name: /Checks/ }).click();
  await expect(page.getByRole('heading', { name: 'Checks' })).toBeVisible();
  await page.unroute('**/assets/SleeveView*.js');
  await page.goto(url(`/albums/${id}/sleeve`));
  await expect(page.getByRole('grid', { name: 'Text and codes' })).toBeVisible();
});

test('the window is called like the album and the view; an address that leads nowhere says so', async ({
  page,
}) => {
  const id = await makeAlbum('Called by name', [wavFile('a.wav', 152, 4)]);
  await page.goto(url(`/albums/${id}/checks`));
  await expect(page).toHaveTitle('Called by name · Checks · Oiseau');
  await page.goto(url(`/albums/${id}/nowhere`));
  await expect(page.getByRole('alert')).toContainText(`No page exists at /albums/${id}/nowhere.`);
  await page.goto(url('/somewhere'));
  await expect(page.getByRole('alert')).toContainText('No page exists at /somewhere.');
  await page.getByRole('link', { name: 'Back to the Shelf' }).click();
  await expect(page.getByRole('heading', { name: 'Shelf' })).toBeVisible();
  await expect(page).toHaveTitle('Oiseau');
});

test('the transport steps from track to track, and its volume is this computer’s alone', async ({ page }) => {
  const id = await makeAlbum('Steps', [
    wavFile('a.wav', 153, 5),
    wavFile('b.wav', 154, 5),
    wavFile('c.wav', 155, 5),
  ]);
  await page.goto(url(`/albums/${id}/checks`));
  const clock = page.getByLabel('Position on the disc');
  // 2 s of pause, then 5 s of sound and 2 s between two.
  await page.getByRole('button', { name: 'Next track' }).click();
  await expect(clock).toHaveText('0:02.0');
  await page.getByRole('button', { name: 'Next track' }).click();
  await expect(clock).toHaveText('0:09.0');
  await page.getByRole('button', { name: 'Next track' }).click();
  await expect(clock).toHaveText('0:16.0');
  await page.getByRole('button', { name: 'Previous track' }).click();
  await expect(clock).toHaveText('0:09.0');
  await page.getByRole('slider', { name: 'Volume' }).fill('30');
  await page.reload();
  await expect(page.getByRole('slider', { name: 'Volume' })).toHaveValue('30');
});

test('Alt ← in a field is ours: it moves the gap, and never leaves the page', async ({ page }) => {
  const id = await makeAlbum('Alt arrows', [wavFile('a.wav', 156, 5), wavFile('b.wav', 157, 5)]);
  await page.goto(url(`/albums/${id}/masters`));
  await page.getByRole('link', { name: /Sequence/ }).click();
  await expect(page.getByRole('img', { name: 'Transition into track 1' })).toBeVisible();
  await page.keyboard.press('n');
  const gap = page.getByRole('region', { name: 'Bench' }).getByLabel('Gap', { exact: true });
  await expect(gap).toHaveValue('2 s');
  await gap.click();
  await page.keyboard.press('Alt+ArrowLeft');
  await expect(page).toHaveURL(/sequence/);
  // A CD frame shorter.
  await expect(gap).toHaveValue('1.987 s');
  await page.getByRole('link', { name: /Sleeve/ }).click();
  await page.getByLabel('UPC/EAN', { exact: true }).click();
  await page.keyboard.press('Alt+ArrowLeft');
  await expect(page).toHaveURL(/sleeve/);
});

test('another output device can be chosen where the browser has one', async ({ page }) => {
  const id = await makeAlbum('Output', [wavFile('a.wav', 158, 5)]);
  await page.goto(url(`/albums/${id}/checks`));
  await page.getByRole('button', { name: 'Output device' }).click();
  await page.getByRole('button', { name: 'System default' }).click();
  // A device that is gone is told of, and the system's own is played through.
  await page.evaluate(() => localStorage.setItem('oiseau-output', JSON.stringify('gone')));
  await page.reload();
  await page.keyboard.press('Space');
  await expect(page.getByText(/The selected output device is no longer available/)).toBeVisible();
});

test('what is drawn first has asked once for each thing, and is set in its own fonts', async ({ page }) => {
  const id = await makeAlbum('Asked once', [wavFile('a.wav', 156, 4)]);
  // What is measured meanwhile is a change, for which the page rightly asks again.
  const masters = () => call(CONTRACT.masters, { params: { id }, query: {} });
  await expect.poll(async () => (await masters()).every(({ measurement }) => measurement)).toBe(true);
  await page.goto(url(`/albums/${id}/sequence`));
  await expect(page.locator('.track-table tr.track')).toHaveCount(1);
  const asked = await page.evaluate(async () => {
    await document.fonts.ready;
    const drawnAt = await new Promise<number>((resolve) => {
      const told = (list: PerformanceObserverEntryList): void => {
        const [drawn] = list.getEntriesByName('first-contentful-paint');
        if (drawn) resolve(drawn.startTime);
      };
      new PerformanceObserver(told).observe({ type: 'paint', buffered: true });
    });
    const files = performance.getEntriesByType('resource') as PerformanceResourceTiming[];
    return files.map(({ name, initiatorType, startTime }) => ({
      path: new URL(name).pathname,
      by: initiatorType,
      before: startTime < drawnAt,
    }));
  });
  const needed = ['/api/session', `/api/albums/${id}`, `/api/albums/${id}/masters`];
  const questions = asked.filter(({ path, before }) => before && needed.includes(path));
  expect(questions.map(({ path }) => path)).toEqual(needed);
  // Asked for by the page itself, not when the style sheet was found to need them.
  expect(asked.filter(({ path }) => path.endsWith('.woff2')).map(({ by }) => by)).toEqual(['link', 'link']);
});
