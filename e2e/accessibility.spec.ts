import { CONTRACT } from '@oiseau/api';
import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';
import { test } from './installation.js';
import { call, makeAlbum, url, wavFile } from './support.js';

const STEPS = [
  'masters',
  'masters/trim',
  'sequence',
  'sleeve',
  'sleeve/label-copy',
  'checks',
  'checks/loudness',
  'render',
  'proof',
  'handover',
];

/** Every view of an album, those of its first master included. */
async function viewsOf(page: Page, id: string): Promise<string[]> {
  const masters = () => call(CONTRACT.masters, { params: { id }, query: {} });
  await expect.poll(async () => (await masters()).every(({ measurement }) => measurement)).toBe(true);
  const sha256 = (await masters())[0]?.sha256 ?? '';
  return [...STEPS, `masters/${sha256}`, `masters/${sha256}/cut`];
}

/** @param only a single rule; otherwise all of WCAG 2.2 AA */
async function violations(page: Page, only?: string): Promise<string[]> {
  const axe = new AxeBuilder({ page });
  const { violations: found } = await (
    only ? axe.withRules(only) : axe.withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
  ).analyze();
  return found.map(({ id, nodes }) => `${id}: ${nodes[0]?.html ?? ''}`);
}

// A button that fades from disabled to enabled has no contrast to be measured for a moment.
test.use({ contextOptions: { reducedMotion: 'reduce' } });

/** All of WCAG on the light surface. The dark one differs in its colours alone, so there contrast is enough. */
async function expectAccessible(page: Page, view: string): Promise<void> {
  expect(await violations(page), view).toEqual([]);
  await page.evaluate(() => (document.documentElement.dataset.bsTheme = 'dark'));
  expect(await violations(page, 'color-contrast'), `${view}, dark`).toEqual([]);
}

test('WCAG 2.2 AA holds on every view, on the light and the dark surface', async ({ page }) => {
  // Thirteen views, each read by every rule and once more in other colours.
  test.setTimeout(300_000);
  const id = await makeAlbum('Access', [wavFile('x.wav', 12, 5), wavFile('y.wav', 13, 5)], (album) => ({
    ...album,
    upc: '1',
  }));
  await page.goto(url('/'));
  await expect(page.getByRole('heading', { name: 'Shelf' })).toBeVisible();
  await expectAccessible(page, 'Shelf');
  for (const step of await viewsOf(page, id)) {
    await page.goto(url(`/albums/${id}/${step}`));
    await expect(page.getByRole('navigation', { name: 'Steps of the album' })).toBeVisible();
    await page.waitForTimeout(300);
    await expectAccessible(page, step);
  }
});

test('no view scrolls sideways at 1280, also with the longest title, and pictures fill their place', async ({
  page,
}) => {
  const long =
    'The Very Long Title of a Piece That Nobody Could Shorten Because Every Word of It Matters, Movement the Third '.repeat(
      2,
    );
  const id = await makeAlbum(long, [wavFile('z.wav', 14, 5)], (album) => ({
    ...album,
    performer: long,
    songs: album.songs.map((song) => ({ ...song, title: long })),
  }));
  for (const path of [
    '/',
    ...[...(await viewsOf(page, id)), 'sound'].map((step) => `/albums/${id}/${step}`),
  ]) {
    await page.goto(url(path));
    await page.waitForTimeout(300);
    const over = await page.evaluate(() =>
      [document.documentElement, ...document.querySelectorAll('.album-view')].some(
        (box) => box.scrollWidth > box.clientWidth,
      ),
    );
    expect(over, path).toBe(false);
    // The size of a canvas that no rule gives one.
    const unsized = await page.evaluate(
      () =>
        [...document.querySelectorAll('canvas')].filter(
          (canvas) => canvas.clientWidth === 300 && canvas.clientHeight === 150,
        ).length,
    );
    expect(unsized, path).toBe(0);
  }
});
