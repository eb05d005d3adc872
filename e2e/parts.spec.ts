import { expect, test } from '@playwright/test';
import { ledgerTitles, makeAlbum, saved, serverAlbum, url, wavFile } from './support.js';

test('an album is broken into discs, spread, walked through and joined again', async ({ page }) => {
  const id = await makeAlbum('Two discs', [
    wavFile('a.wav', 1, 6),
    wavFile('b.wav', 2, 6),
    wavFile('c.wav', 3, 6),
    wavFile('d.wav', 4, 6),
  ]);
  await page.goto(url(`/albums/${id}/sequence`));
  // With one part there is nothing of it.
  await expect(page.getByRole('radiogroup', { name: 'Part' })).toHaveCount(0);
  await page.getByRole('row', { name: /Song 3/ }).click();
  await page.getByRole('button', { name: 'Parts' }).click();
  const dialog = page.getByRole('dialog', { name: 'Parts' });
  await dialog.getByRole('button', { name: 'a disc' }).click();
  await dialog.getByLabel('Title of Disc 2').fill('Ebb');
  await dialog.getByLabel('Title of Disc 2').press('Enter');
  await dialog.getByRole('button', { name: 'Done' }).click();
  await saved(page);
  expect((await serverAlbum(id)).parts).toMatchObject([
    { medium: 'cd', title: '' },
    { medium: 'cd', title: 'Ebb' },
  ]);
  expect(await ledgerTitles(page)).toEqual(['Song 1', 'Song 2']);
  await page.getByRole('radio', { name: 'Disc 2' }).click();
  expect(await ledgerTitles(page)).toEqual(['Song 3', 'Song 4']);
  // A track that is moved to the front stays on its disc.
  await page.getByRole('row', { name: /Song 4/ }).focus();
  await page.keyboard.press('Alt+ArrowUp');
  expect(await ledgerTitles(page)).toEqual(['Song 4', 'Song 3']);
  // From the end of a disc the player goes on to the next.
  await page.getByRole('radio', { name: 'Disc 1' }).click();
  await page.getByRole('slider').first().focus();
  await page.keyboard.press('End');
  for (let i = 0; i < 1; i++) await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Space');
  await expect(page.getByRole('radio', { name: 'Disc 2' })).toHaveAttribute('aria-checked', 'true', {
    timeout: 15_000,
  });
  await expect(page.locator('.transport-track')).toContainText('Song 4', { timeout: 10_000 });
  await page.keyboard.press('Space');
  await page.getByRole('button', { name: 'Parts' }).click();
  await dialog.getByRole('button', { name: 'Join to the one before' }).click();
  await dialog.getByLabel('On at least so many').selectOption('3');
  await expect(
    dialog.getByRole('list', { name: 'How they would be spread' }).getByRole('listitem'),
  ).toHaveCount(3);
  await dialog.getByRole('button', { name: 'Spread them so' }).click();
  await dialog.getByRole('button', { name: 'Done' }).click();
  await saved(page);
  expect((await serverAlbum(id)).parts).toHaveLength(3);
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  expect((await serverAlbum(id)).parts).toEqual([]);
});
