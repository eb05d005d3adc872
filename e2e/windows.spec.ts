import { expect } from '@playwright/test';
import { test } from './installation.js';
import { makeAlbum, url, wavFile } from './support.js';

const STEPS = ['masters', 'sequence', 'sound', 'sleeve', 'checks', 'render', 'proof', 'handover'];

test('Skyline and Bench take the height that a window has', async ({ page }) => {
  const id = await makeAlbum('Heights', [wavFile('a.wav', 161, 6), wavFile('b.wav', 162, 6)]);
  const heights = async (width: number, height: number): Promise<[number, number]> => {
    await page.setViewportSize({ width, height });
    await page.goto(url(`/albums/${id}/sequence`));
    const bench = page.getByRole('img', { name: 'Transition into track 1' });
    await expect(bench).toBeVisible();
    const of = async (locator: typeof bench) => (await locator.boundingBox())?.height ?? 0;
    return [await of(page.locator('.skyline canvas')), await of(bench)];
  };
  const [skyline, bench] = await heights(1280, 800);
  expect([skyline, bench]).toEqual([160, 252]);
  for (const [width, height] of [
    [1440, 900],
    [1920, 1080],
    [2560, 1440],
  ] as const) {
    const [high, wide] = await heights(width, height);
    // Most of what the window is higher goes to the two pictures.
    expect(high + wide - skyline - bench, `${width}×${height}`).toBeGreaterThan(0.8 * (height - 800) - 1);
    // The bar under the Bench is still in sight.
    const bar = await page.getByRole('button', { name: 'Play all' }).boundingBox();
    expect((bar?.y ?? 0) + (bar?.height ?? 0)).toBeLessThan(height - 56);
  }
});

for (const [width, height] of [
  [1024, 768],
  [820, 1100],
  [600, 900],
] as const)
  test(`nothing is cut at ${width}×${height}, and every step is within reach`, async ({ page }) => {
    const id = await makeAlbum(`Narrow ${width}`, [wavFile('a.wav', 163, 6), wavFile('b.wav', 164, 6)]);
    await page.setViewportSize({ width, height });
    for (const step of width < 860 ? ['masters', 'checks', 'proof', 'handover'] : STEPS) {
      await page.goto(url(`/albums/${id}/masters`));
      await page
        .getByRole('navigation', { name: 'Steps of the album' })
        .locator(`a[href$="/${step}"]`)
        .click();
      await expect(page.getByRole('contentinfo', { name: 'Transport' })).toBeVisible();
      await page.waitForTimeout(400);
      const cut = await page.evaluate(() => {
        const roots = [
          document.documentElement,
          ...document.querySelectorAll('.album-view, .album-header, .transport'),
        ];
        return roots
          .filter((box) => box.scrollWidth > box.clientWidth + 1)
          .map((box) => `${box.className}: ${box.scrollWidth} in ${box.clientWidth}`);
      });
      expect(cut, step).toEqual([]);
      // It can be heard from every view.
      const play = page.getByRole('button', { name: 'Play', exact: true });
      await expect(play).toBeInViewport();
    }
  });

test('views, open rows, tabs and dialogs have addresses, and Back closes what was opened', async ({
  page,
}) => {
  const id = await makeAlbum('Addresses', [wavFile('a.wav', 165, 6), wavFile('b.wav', 166, 6)]);
  await page.goto(url(`/albums/${id}/sequence`));
  await page.getByRole('button', { name: 'Levels' }).click();
  await expect(page.getByRole('region', { name: 'Levels' })).toBeVisible();
  expect(new URL(page.url()).searchParams.get('open')).toBe('levels');
  await page.goBack();
  await expect(page.getByRole('region', { name: 'Levels' })).toHaveCount(0);
  await expect(page.getByRole('img', { name: 'Transition into track 1' })).toBeVisible();
  // The row in hand stands in the address, and comes back with it.
  await page.keyboard.press('n');
  await expect(page).toHaveURL(/song=t2/);
  await page.reload();
  await expect(page.getByRole('img', { name: 'Transition into track 2' })).toBeVisible();
  // A dialog that was come to by its address is closed to the view under it.
  await page.goto(url(`/albums/${id}/sleeve?open=codes`));
  await expect(page.getByRole('dialog')).toBeVisible();
  await page.getByRole('dialog').getByRole('button', { name: 'Close' }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(page).toHaveURL(new RegExp(`/albums/${id}/sleeve$`));
  const tabs = page.getByRole('tablist', { name: 'Columns' }).getByRole('tab');
  await tabs.nth(1).click();
  const chosen = (await tabs.nth(1).textContent()) ?? '';
  await page.reload();
  await expect(page.getByRole('tab', { name: chosen })).toHaveAttribute('aria-selected', 'true');
  await page.goto(url(`/albums/${id}/render`));
  await page.getByText('files', { exact: true }).first().click();
  await expect(page).toHaveURL(/deliverable=files/);
});
