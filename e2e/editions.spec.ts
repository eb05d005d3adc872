import { CONTRACT } from '@oiseau/api';
import { expect } from '@playwright/test';
import { test } from './installation.js';
import { call, makeAlbum, serverAlbum, tableTitles, url, wavFile } from './support.js';

test('an edition is added, has its own order and spacing, shares titles, and is renamed and removed', async ({
  page,
}) => {
  const id = await makeAlbum('Two ways', [
    wavFile('a.wav', 41, 5),
    wavFile('b.wav', 42, 5),
    wavFile('c.wav', 43, 5),
  ]);
  await page.goto(url(`/albums/${id}/sequence`));
  await page.getByRole('button', { name: 'Editions' }).click();
  await page.getByRole('button', { name: 'Add edition …' }).click();
  const dialog = page.getByRole('dialog', { name: 'Add edition' });
  await dialog.getByLabel('Name of the album as it is').fill('CD');
  await dialog.getByLabel('Name of the new edition').fill('cd');
  await expect(dialog.getByText('There is already an edition “cd”.')).toBeVisible();
  await dialog.getByLabel('Name of the new edition').fill('LP');
  await dialog.getByRole('button', { name: 'Add edition' }).click();
  await expect(page.locator('.edition-name')).toHaveText('LP');

  // Order and gap stay on the LP, the title is everywhere.
  await page.getByLabel('Gap before track 2').fill('5');
  await page.getByLabel('Gap before track 2').press('Enter');
  await page.getByLabel('Title of track 1').fill('Ebb');
  await page.getByLabel('Title of track 1').press('Enter');
  await page.getByRole('row', { name: 'track 1: Ebb' }).focus();
  await page.keyboard.press('Alt+ArrowDown');
  await expect.poll(() => tableTitles(page)).toEqual(['Song 2', 'Ebb', 'Song 3']);
  await page.getByRole('button', { name: 'Edition: LP' }).click();
  await page.getByRole('button', { name: 'CD', exact: true }).click();
  await expect.poll(() => tableTitles(page)).toEqual(['Ebb', 'Song 2', 'Song 3']);
  await expect(page.getByLabel('Gap before track 2')).toHaveValue('2.00 s');
  await expect
    .poll(async () => (await serverAlbum(id)).editions.map(({ order }) => order !== null))
    .toEqual([false, true]);

  // Undo takes back the last step of either edition.
  await page.getByRole('button', { name: /^Undo/ }).click();
  await page.getByRole('button', { name: 'Edition: CD' }).click();
  await page.getByRole('button', { name: 'LP', exact: true }).click();
  await expect.poll(() => tableTitles(page)).toEqual(['Ebb', 'Song 2', 'Song 3']);

  await page.getByRole('button', { name: 'Edition: LP' }).click();
  await page.getByRole('button', { name: 'Rename edition …' }).click();
  const rename = page.getByRole('dialog', { name: 'Rename edition' });
  await rename.getByLabel('Name').fill('Vinyl');
  await rename.getByRole('button', { name: 'Rename' }).click();
  await expect(page.locator('.edition-name')).toHaveText('Vinyl');
  await page.getByRole('button', { name: 'Edition: Vinyl' }).click();
  await page.getByRole('button', { name: 'Remove edition' }).click();
  await expect
    .poll(async () => (await call(CONTRACT.album, { params: { id } })).album.editions.length)
    .toBe(1);
});
