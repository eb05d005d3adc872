import { expect } from '@playwright/test';
import { test } from './installation.js';
import {
  inSeconds,
  tableTitles,
  makeAlbum,
  saved,
  serverAlbum,
  soundFile,
  typeInto,
  url,
  wavFile,
} from './support.js';

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
  // Headings stand where the parts begin, with what is left of each.
  expect(await tableTitles(page)).toEqual(['Song 1', 'Song 2', 'Song 3', 'Song 4']);
  await expect(page.locator('.part-heading')).toHaveText([
    /^Disc 1.*0:16.*left$/,
    /^Disc 2 Ebb.*0:16.*left$/,
  ]);
  await page.getByRole('radio', { name: 'Disc 2' }).click();
  await expect(page.getByRole('row', { name: /Song 3/ })).toHaveAttribute('aria-current', 'true');
  // A track that is moved to the front stays on its disc.
  await page.getByRole('row', { name: /Song 4/ }).focus();
  await page.keyboard.press('Alt+ArrowUp');
  expect(await tableTitles(page)).toEqual(['Song 1', 'Song 2', 'Song 4', 'Song 3']);
  // From the end of a disc the player goes on to the next.
  await page.getByRole('radio', { name: 'Disc 1' }).click();
  await page.getByRole('slider').first().focus();
  await page.keyboard.press('End');
  for (let i = 0; i < 1; i++) await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Space');
  await expect(page.getByText('Disc 2 is next …')).toBeVisible({ timeout: 15_000 });
  await expect(page.getByRole('radio', { name: 'Disc 2' })).toBeChecked();
  await expect(page.locator('.transport-track')).toContainText('Song 4', { timeout: 10_000 });
  await page.keyboard.press('Space');
  await page.getByRole('button', { name: 'Parts' }).click();
  await dialog.getByRole('button', { name: 'Join to the previous part' }).click();
  await dialog.getByLabel('Minimum number of parts').selectOption('3');
  await expect(
    dialog.getByRole('list', { name: 'Preview of the distribution' }).getByRole('listitem'),
  ).toHaveCount(3);
  await dialog.getByRole('button', { name: 'Distribute' }).click();
  await dialog.getByRole('button', { name: 'Done' }).click();
  await saved(page);
  expect((await serverAlbum(id)).parts).toHaveLength(3);
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  expect((await serverAlbum(id)).parts).toEqual([]);
});

test('tracks are dragged from part to part, on the Skyline and over a heading, and another part is looked at while one plays', async ({
  page,
}) => {
  const id = await makeAlbum('Two sides', [
    wavFile('a.wav', 1, 8),
    wavFile('b.wav', 2, 8),
    wavFile('c.wav', 3, 8),
  ]);
  await page.goto(url(`/albums/${id}/sequence`));
  await page.getByRole('row', { name: /Song 3/ }).click();
  await page.getByRole('button', { name: 'Parts' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'a disc' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Done' }).click();
  await saved(page);
  const order = async (): Promise<string> => {
    await saved(page);
    const { songs, parts } = await serverAlbum(id);
    return songs
      .map(({ id: song, title }) => (parts.some(({ first }) => first === song) ? '| ' : '') + title.slice(-1))
      .join(' ');
  };
  expect(await order()).toBe('| 1 2 | 3');
  // The first disc is longer: the second ground line ends before it.
  const box = (await page.locator('.skyline canvas').boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
  expect(box.height).toBeGreaterThan(150);
  // Song 1 sounds near the left of the first line; the second line lies below it.
  const [x, upper] = [box.x + 0.25 * box.width, box.y + 40];
  await page.mouse.move(x, upper);
  await page.mouse.down();
  await page.mouse.move(x, upper + 20, { steps: 3 });
  await page.mouse.move(box.x + 0.9 * box.width, box.y + box.height - 30, { steps: 6 });
  await page.mouse.up();
  expect(await order()).toBe('| 2 | 3 1');
  await expect(page.getByRole('radio', { name: 'Disc 2' })).toBeChecked();
  await page.getByRole('row', { name: /Song 3/ }).focus();
  await page.keyboard.press('Alt+ArrowUp');
  expect(await order()).toBe('| 2 3 | 1');
  await expect(page.getByRole('radio', { name: 'Disc 1' })).toBeChecked();
  // While disc 1 plays, a row of disc 2 is looked at: the transport stays with what sounds.
  await page.getByRole('button', { name: 'Play track 1-01' }).click();
  await expect(page.locator('.transport-track')).toContainText('Song 2');
  await page.getByRole('row', { name: /Song 1/ }).focus();
  await expect(page.getByRole('radio', { name: 'Disc 2' })).toBeChecked();
  await expect(page.locator('.transport-track')).toContainText('Song 2');
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  // What is played next is of the disc that is shown.
  await page.keyboard.press('Space');
  await page.keyboard.press('Space');
  await expect(page.locator('.transport-track')).toContainText('Song 1');
  await page.keyboard.press('Space');
});

test('a side is looked at from the rim to the inside, and goes to the cutting room', async ({ page }) => {
  const id = await makeAlbum('A record', [wavFile('a.wav', 1, 6), wavFile('b.wav', 2, 6)], (album) => ({
    ...album,
    deliverables: [],
    parts: album.songs.map(({ id: first }) => ({
      ...{ medium: 'vinyl-7-45' as const, first, title: '', upc: '', limit: null },
    })),
  }));
  await page.goto(url(`/albums/${id}/checks/pq-sheet`));
  await expect(page.getByRole('heading', { name: 'Side A' })).toBeVisible();
  // It is measured while the view is open.
  await expect(page.locator('.side-course .recharts-area')).toBeVisible({ timeout: 30_000 });
  await page.getByRole('radio', { name: 'Side B' }).click();
  await expect(page.getByRole('cell', { name: 'B1' })).toBeVisible();
  await page.getByRole('link', { name: 'Show in Render' }).click();
  await page.getByRole('button', { name: 'Add a deliverable' }).click();
  await page.getByRole('button', { name: /^cutting room/ }).click();
  await expect(page.getByRole('table', { name: 'Files of cutting room' })).toContainText('side-B.wav');
  await page.getByRole('button', { name: /^Render/ }).click();
  await expect(page.getByText('verified', { exact: true })).toBeVisible({ timeout: 30_000 });
  await page.goto(url(`/albums/${id}/proof`));
  await expect(page.getByText('cutting-sheet.pdf')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText('side-B.wav').first()).toBeVisible();
});

test('a long reading is cut in its silences into tracks of about a length, and spread over discs in one go', async ({
  page,
}) => {
  // Two and a half minutes in which it is silent for the last of every twelve seconds.
  const spoken = Float64Array.from({ length: 150 * 44_100 }, (_, n) =>
    Math.floor(n / 44_100) % 12 === 11 ? 0 : 0.25 * Math.sin(n / 20),
  );
  const id = await makeAlbum('A reading', [soundFile('reading.wav', spoken)]);
  await page.goto(url(`/albums/${id}/sequence`));
  await page.getByRole('button', { name: 'Parts' }).click();
  const dialog = page.getByRole('dialog', { name: 'Parts' });
  // Folded away: for tracks of five minutes nothing is long.
  const form = dialog.getByRole('region', { name: 'Cut long recordings' });
  await expect(form).toHaveCount(0);
  await dialog.getByRole('button', { name: 'Cut a long reading or concert into tracks …' }).click();
  await typeInto(form.getByLabel('never under'), '0.3');
  await typeInto(form.getByLabel('tracks of about'), '0.5');
  // Cuts at 23.7, 59.7, 83.7, 119.7 s or so: five tracks of about thirty seconds.
  await expect(form.getByRole('status')).toContainText('Result: 5 tracks', { timeout: 30_000 });
  await typeInto(dialog.getByLabel('Maximum length'), '1:15');
  await expect(form.getByRole('status')).toContainText('on 3 parts');
  await form.getByRole('button', { name: 'Cut and distribute' }).click();
  await dialog.getByRole('button', { name: 'Done' }).click();
  await saved(page);
  const { songs, parts } = await serverAlbum(id);
  expect(songs.map(({ title }) => title)).toEqual([1, 2, 3, 4, 5].map((n) => `Song 1 · ${n}`));
  expect(parts).toHaveLength(3);
  // Every cut lies in a silence: the last of twelve seconds.
  for (const { region } of songs.slice(1)) expect(inSeconds(region.in) % 12).toBeGreaterThan(11);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await saved(page);
  expect((await serverAlbum(id)).songs).toHaveLength(1);
});
