import { expect, type Page } from '@playwright/test';
import { test } from './installation.js';
import {
  inSeconds as s,
  tableTitles,
  makeAlbum,
  saved,
  serverTracks,
  typeInto,
  url,
  wavFile,
} from './support.js';

async function openFour(page: Page): Promise<string> {
  const files = [1, 2, 3, 4].map((seed) => wavFile(`${seed}.wav`, seed, 8));
  const id = await makeAlbum('TrackTable', files);
  await page.goto(url(`/albums/${id}/sequence`));
  await expect(row(page, 1)).toBeVisible();
  return id;
}
const row = (page: Page, number: number) =>
  page.getByRole('row', { name: `track ${number}: Song ${number}` });
const column = async (page: Page, id: string, of: 'gapBefore' | 'gainDb' | 'in' | 'out') =>
  (await serverTracks(id)).map((track) => (of === 'gainDb' ? track.gainDb : s(track[of])));

test('what is typed into one of several chosen rows goes to all of them, as one step', async ({ page }) => {
  const id = await openFour(page);
  await row(page, 2).focus();
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await expect(page.getByText('3 tracks selected')).toBeVisible();
  await typeInto(page.getByLabel('Gap before track 3'), '1.5');
  await typeInto(page.getByLabel('Gain of track 3'), '-2');
  await page.getByRole('button', { name: 'All louder by 0.5 dB' }).click();
  await page.getByRole('button', { name: 'All louder by 0.5 dB' }).click();
  await saved(page);
  expect(await column(page, id, 'gapBefore')).toEqual([2, 1.5, 1.5, 1.5]);
  expect(await column(page, id, 'gainDb')).toEqual([0, -1, -1, -1]);
  const undo = page.getByRole('button', { name: 'Undo' });
  await expect(undo).toHaveAttribute('title', /gain of 3 tracks up/);
  await undo.click();
  await expect(undo).toHaveAttribute('title', /gain of 3 tracks → −2\.0 dB/);
  await undo.click();
  await expect(undo).toHaveAttribute('title', /gap before 3 tracks → 1\.5/);
});

test('rows are chosen with Ctrl and Shift and a press, moved together, and taken out together', async ({
  page,
}) => {
  await openFour(page);
  await row(page, 1).locator('td').first().click();
  await row(page, 3)
    .locator('td')
    .first()
    .click({ modifiers: ['Control'] });
  await expect(page.getByText('2 tracks selected')).toBeVisible();
  await row(page, 3).focus();
  await page.keyboard.press('Alt+ArrowDown');
  await expect.poll(() => tableTitles(page)).toEqual(['Song 2', 'Song 1', 'Song 4', 'Song 3']);
  await page.keyboard.press('Delete');
  await expect.poll(() => tableTitles(page)).toEqual(['Song 2', 'Song 4']);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect.poll(() => tableTitles(page)).toEqual(['Song 1', 'Song 2', 'Song 3', 'Song 4']);
  await row(page, 1).locator('td').first().click();
  await row(page, 3)
    .locator('td')
    .first()
    .click({ modifiers: ['Shift'] });
  await expect(page.getByText('3 tracks selected')).toBeVisible();
  await row(page, 2).focus();
  await page.keyboard.press('Escape');
  await expect(page.getByText('tracks selected')).toHaveCount(0);
  await page.keyboard.press('Control+a');
  await expect(page.getByText('4 tracks selected')).toBeVisible();
});

test('in, out and start are typed in place, and what follows can be held', async ({ page }) => {
  const id = await openFour(page);
  // Songs of 8 s with 2 s between: the start marks are at 2, 12, 22 and 32 s.
  await expect(page.getByLabel('Start of track 4')).toHaveValue('00:32:00');
  await typeInto(page.getByLabel('Out point of track 1'), '6.5');
  await expect(page.getByLabel('Start of track 4')).toHaveValue('00:30:37');
  await typeInto(page.getByLabel('Start of track 2'), '00:12:00');
  await expect(page.getByLabel('Gap before track 2')).toHaveValue('3.50 s');
  await page.getByLabel('Keep later tracks in place').check();
  await typeInto(page.getByLabel('In point of track 3'), '250 ms');
  await typeInto(page.getByLabel('Gap before track 3'), '00:03:00');
  await saved(page);
  // The sound of track 3 stays when it is trimmed; the longer gap is taken back by the one after it.
  expect(await column(page, id, 'in')).toEqual([0, 0, 0.25, 0]);
  expect(await column(page, id, 'gapBefore')).toEqual([2, 3.5, 3, 1.25]);
  await expect(page.getByLabel('Start of track 4')).toHaveValue('00:32:00');
  // Arrows walk down a column and keep what was typed.
  const gain = page.getByLabel('Gain of track 1');
  await gain.fill('-1');
  await gain.press('ArrowDown');
  await expect(page.getByLabel('Gain of track 2')).toBeFocused();
  await saved(page);
  expect(await column(page, id, 'gainDb')).toEqual([-1, 0, 0, 0]);
});

test('beats need a tempo, and say so', async ({ page }) => {
  await openFour(page);
  await page.getByLabel('Gap before track 2').fill('2 beats');
  await expect(page.getByText('The previous track has no tempo yet.')).toBeVisible();
  await page.getByLabel('Gap before track 2').press('Escape');
  await expect(page.getByLabel('Gap before track 2')).toHaveValue('2.00 s');
});
