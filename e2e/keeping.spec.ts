import { CONTRACT } from '@oiseau/api';
import { expect } from '@playwright/test';
import { test } from './installation.js';
import { call, makeAlbum, url, wavFile } from './support.js';

test('what lies where is seen, looked over, and a deleted album is brought back from the bin', async ({
  page,
}) => {
  const id = await makeAlbum('In the bin', [wavFile('bin.wav', 71, 5)]);
  await call(CONTRACT.deleteAlbum, { params: { id } });
  await page.goto(url('/'));
  await page.getByRole('link', { name: 'Storage' }).click();
  await expect(page.getByRole('heading', { name: 'Storage' })).toBeVisible();
  await expect(page.getByRole('row', { name: /^Masters \d+ [\d.]+ [kMG]?B$/ })).toBeVisible();
  await page.getByRole('button', { name: 'Verify all files' }).click();
  await expect(page.getByText(/files? \(.*\) and all documents were read today/)).toBeVisible({
    timeout: 60_000,
  });
  const row = page.getByRole('row', { name: /^In the bin removed/ });
  await row.getByRole('button', { name: 'Restore' }).click();
  await expect(row).toHaveCount(0);
  await page.getByRole('link', { name: 'Back to the Shelf' }).click();
  await expect(page.getByRole('link', { name: /In the bin/ })).toBeVisible();
});

test('the bin is emptied only after a question', async ({ page }) => {
  const id = await makeAlbum('Gone for good', [wavFile('gone.wav', 72, 5)]);
  await call(CONTRACT.deleteAlbum, { params: { id } });
  await page.goto(url('/keeping'));
  const bin = page.getByRole('row', { name: /^Deleted albums/ });
  await bin.getByRole('button', { name: /^Delete now/ }).click();
  await page.getByRole('button', { name: 'Cancel' }).click();
  await expect(page.getByRole('row', { name: /^Gone for good/ })).toBeVisible();
  await bin.getByRole('button', { name: /^Delete now/ }).click();
  await page.getByRole('button', { name: 'Empty the bin' }).click();
  await expect(page.getByRole('row', { name: /^Gone for good/ })).toHaveCount(0);
  await expect(call(CONTRACT.restoreAlbum, { params: { id } })).rejects.toMatchObject({ status: 404 });
});

test('a download that can’t be had says why, in the page', async ({ page }) => {
  const id = await makeAlbum('Lost file', [wavFile('lost.wav', 73, 5)]);
  await page.route(`**/api/albums/${id}/bundle`, (route) =>
    route.fulfill({
      status: 409,
      contentType: 'application/json',
      body: JSON.stringify({ error: 'Nothing was sent: “lost.wav” is missing.', code: 'refused' }),
    }),
  );
  await page.goto(url('/'));
  await page.getByRole('button', { name: 'Actions for Lost file' }).click();
  await page.getByRole('button', { name: 'Download with masters (ZIP)' }).click();
  await expect(page.getByText('Nothing was sent: “lost.wav” is missing.')).toBeVisible();
});
