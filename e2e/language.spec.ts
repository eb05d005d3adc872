import { expect, type Page } from '@playwright/test';
import { test } from './installation.js';
import { pseudoCatalogue, SAME_EVERYWHERE } from './pseudo.js';
import { makeAlbum, serverAlbum, url, wavFile } from './support.js';

test.describe('in a German browser', () => {
  test.use({ locale: 'de-AT' });

  test('Oiseau is German, takes a comma, and can be English all the same', async ({ page }) => {
    const id = await makeAlbum('Neun Gezeiten', [wavFile('x.wav', 12, 5), wavFile('y.wav', 13, 5)]);
    await page.goto(url('/'));
    await expect(page.getByRole('heading', { name: 'Regal' })).toBeVisible();
    expect(await page.locator('html').getAttribute('lang')).toBe('de');
    await page.goto(url(`/albums/${id}/sequence`));
    const gap = page.getByLabel('Pause vor Track 2');
    await expect(gap).toHaveValue('2,00 s');
    await gap.fill('1,5');
    await gap.press('Enter');
    await expect(gap).toHaveValue('1,50 s');
    await expect(page.getByTitle(/^Rückgängig: .*Pause vor/)).toBeEnabled();
    await expect.poll(async () => (await serverAlbum(id)).songs[1]?.region.gapBefore).toBe(1.5 * 705_600_000);
    await page.goto(url('/'));
    await page.getByRole('button', { name: 'Sprache' }).click();
    await page.getByRole('button', { name: 'English' }).click();
    await expect(page.getByRole('heading', { name: 'Shelf' })).toBeVisible();
    await page.getByRole('button', { name: 'Language' }).click();
    await page.getByRole('button', { name: 'Same as the browser' }).click();
    await expect(page.getByRole('heading', { name: 'Regal' })).toBeVisible();
  });
});

const VIEWS = ['masters', 'sequence', 'sound', 'sleeve', 'checks', 'render', 'proof', 'handover'];

/** Words on the page that no catalogue has changed. */
const plainWords = (page: Page): Promise<string[]> =>
  page.evaluate((same) => {
    const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    const found: string[] = [];
    for (let node = walker.nextNode(); node; node = walker.nextNode()) {
      if (node.parentElement?.closest('script, style')) continue;
      // Names of languages are the browser’s own.
      if (node.parentElement?.matches('[data-languages] option')) continue;
      const text = (node.textContent ?? '').replace(new RegExp(same, 'g'), '');
      if (/[a-z]*[aeiou][a-z]+|[a-z]+[aeiou]/i.test(text)) found.push(node.textContent ?? '');
    }
    return found;
  }, SAME_EVERYWHERE.source);

test.describe('in a language of longer words', () => {
  test.use({ locale: 'de-DE' });

  test('every view is translated, and nothing pushes it sideways', async ({ page }) => {
    const catalogue = pseudoCatalogue();
    await page.route(/\/de-[\w-]+\.json$/, (route) => route.fulfill({ json: catalogue }));
    const id = await makeAlbum('Thrb', [wavFile('x.wav', 14, 5), wavFile('y.wav', 15, 5)], (album) => ({
      ...album,
      performer: 'Mrrm',
      songs: album.songs.map((song) => ({ ...song, title: 'Ddn' })),
    }));
    const plain: Record<string, string[]> = {};
    for (const view of ['', ...VIEWS.map((step) => `albums/${id}/${step}`)]) {
      await page.goto(url(`/${view}`));
      await page.waitForLoadState('networkidle');
      await page.waitForTimeout(300);
      const words = view === '' ? [] : await plainWords(page);
      if (words.length > 0) plain[view.replace(`albums/${id}/`, '')] = words;
      const wide = await page.evaluate(() => document.documentElement.scrollWidth);
      expect(wide, view).toBeLessThanOrEqual(1280);
    }
    expect(plain).toEqual({});
  });
});
