import { expect, test } from '@playwright/test';
import { api, makeAlbum, saved, url, wavFile } from './support.js';

test('a render goes on when the window is closed, and another one is stopped', async ({ page, context }) => {
  const id = await makeAlbum(page, 'Long render', [wavFile('long.wav', 9, 60, 96_000, 'int24')], (album) => ({
    ...album,
    deliverables: album.deliverables.slice(0, 1),
  }));
  await page.goto(url(`/albums/${id}/render`));
  await page.getByRole('button', { name: 'Render 1 deliverable' }).click();
  await expect(page.locator('.delivery.running')).toContainText('× real time');
  await page.close();
  const again = await context.newPage();
  await expect
    .poll(async () => (await api<{ state: string }[]>(again, 'GET', `/albums/${id}/deliveries`))[0]?.state, {
      timeout: 60_000,
    })
    .toBe('done');

  await again.goto(url(`/albums/${id}/render`));
  await again.getByRole('button', { name: 'Render 1 deliverable' }).click();
  await expect(again.locator('.delivery.running')).toBeVisible();
  await again.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect(again.locator('.delivery.stopped')).toBeVisible();
  await expect(again.getByRole('button', { name: 'Render again' })).toBeVisible();
});

test('errors are named, lead to their place and stand in the way of a render', async ({ page }) => {
  const id = await makeAlbum(page, 'Faulty', [wavFile('f.wav', 10, 5)]);
  await page.goto(url(`/albums/${id}/sleeve`));
  const code = page.getByLabel('UPC/EAN', { exact: true });
  await code.fill('2012345678904');
  await expect(page.getByText('The check digit (the last) should be 3, not 4.')).toBeVisible();
  await code.press('Enter');
  await saved(page);
  await page.getByRole('link', { name: /Render/ }).click();
  await expect(page.getByRole('button', { name: /^Render 2/ })).toBeDisabled();
  await page.getByRole('link', { name: 'See the Checks' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'is no UPC/EAN' })).toContainText('Error');
  await page.getByRole('link', { name: 'Go there' }).first().click();
  await expect(page).toHaveURL(/sleeve$/);
});

test('settings that mean nothing for a format are not shown', async ({ page }) => {
  const id = await makeAlbum(page, 'Settings', [wavFile('g.wav', 11, 5)]);
  await page.goto(url(`/albums/${id}/render`));
  const files = page.getByRole('region', { name: 'files' });
  await expect(files.getByLabel('Dither')).toHaveCount(0);
  await files.getByLabel('Word').selectOption('16 bit');
  await expect(files.getByLabel('Dither')).toHaveValue('triangular');
  await expect(files.getByLabel('Word').getByRole('option')).toHaveText(['16 bit', '24 bit']);
  await files.getByLabel('Format').selectOption('WAV');
  await expect(files.getByLabel('Word').getByRole('option')).toHaveText([
    '16 bit',
    '24 bit',
    '32 bit',
    '32 bit float',
  ]);
  await expect(files.getByText('01 Song 1.wav')).toBeVisible();
});
