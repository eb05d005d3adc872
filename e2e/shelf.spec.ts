import { readFile } from 'node:fs/promises';
import { expect, test } from '@playwright/test';
import { makeAlbum, serverAlbum, serverTracks, url, wavFile } from './support.js';

test('albums are duplicated, deleted and brought back', async ({ page }) => {
  await makeAlbum('Shelf test', [wavFile('s.wav', 5, 5)]);
  await page.goto(url('/'));
  await expect(page.getByRole('link', { name: /^Shelf test|Shelf test No performer/ }).first()).toBeVisible();
  await page.getByRole('button', { name: 'What to do with Shelf test' }).click();
  await page.getByRole('button', { name: 'Duplicate', exact: true }).click();
  await expect(page.getByText('Shelf test (copy)').first()).toBeVisible();
  await page.getByRole('button', { name: 'What to do with Shelf test (copy)' }).click();
  await page.getByRole('button', { name: 'Delete', exact: true }).click();
  await expect(page.getByText('“Shelf test (copy)” was deleted.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'What to do with Shelf test (copy)' })).toHaveCount(0);
  await page.locator('.notices').getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('button', { name: 'What to do with Shelf test (copy)' })).toBeVisible();
});

test('an album leaves as a file and comes back with masters that are chosen beside it', async ({ page }) => {
  const id = await makeAlbum('Travels', [wavFile('travel one.wav', 6, 5), wavFile('travel two.wav', 7, 5)]);
  await page.goto(url('/'));
  await page.getByRole('button', { name: 'What to do with Travels' }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Save the album file' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('Travels.json');
  const text = (await readFile(await download.path(), 'utf8')).replaceAll('travel one.wav', 'fresh.wav');

  await page.getByRole('button', { name: 'Open an album file' }).click();
  const dialog = page.getByRole('dialog');
  await dialog
    .getByLabel(/The album file/)
    .setInputFiles([{ name: 'Travels.json', mimeType: 'application/json', buffer: Buffer.from(text) }]);
  await expect(dialog).toContainText('fresh.wav missing: choose it as well');
  await expect(dialog).toContainText('travel two.wav on the Shelf already');
  await expect(dialog.getByRole('button', { name: 'Open' })).toBeDisabled();
  await dialog.getByLabel(/The album file/).setInputFiles([wavFile('fresh.wav', 8, 5)]);
  await dialog.getByRole('button', { name: 'Open' }).click();
  await expect(page).toHaveURL(/sequence$/);
  const imported = await serverTracks(page.url().split('/').at(-2) ?? '');
  const original = await serverTracks(id);
  expect(imported[1]?.master).toBe(original[1]?.master);
  expect(imported[0]?.master).not.toBe(original[0]?.master);
});

test('a file that is no album file says what is wrong with it', async ({ page }) => {
  await page.goto(url('/'));
  await page.getByRole('button', { name: 'Open an album file' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel(/The album file/).setInputFiles([
    {
      name: 'x.json',
      mimeType: 'application/json',
      buffer: Buffer.from('{"format":"oiseau-album","version":1,"tracks":[],"colour":1}'),
    },
  ]);
  await expect(dialog.getByRole('alert')).toContainText('colour: unknown key.');
});

test('an edit right before the Shelf is gone to is kept, however large the album is', async ({ page }) => {
  // More than the 64 KiB that a browser carries on for a page that goes.
  const id = await makeAlbum('Large', [wavFile('one.wav', 1, 5)], (album) => ({
    ...album,
    songs: Array.from({ length: 60 }, (_, i) => ({
      ...(album.songs[0] as (typeof album.songs)[number]),
      id: `t${i + 1}`,
      comment: 'x'.repeat(3000),
    })),
  }));
  await page.goto(url(`/albums/${id}/sleeve`));
  await page.getByLabel('Label', { exact: true }).fill('Low Light');
  await page.getByLabel('Label', { exact: true }).press('Enter');
  await page.getByRole('link', { name: 'Shelf' }).click();
  await expect.poll(async () => (await serverAlbum(id)).label).toBe('Low Light');
});
