import { expect } from '@playwright/test';
import { HEARD, test } from './installation.js';
import { tableTitles, makeAlbum, saved, serverAlbum, url, wavFile } from './support.js';

test(
  'an instrumental is offered, becomes an alternate, is heard in its place and rendered beside its song',
  { tag: HEARD },
  async ({ page }) => {
    const id = await makeAlbum('Both ways', [
      wavFile('01 Lamp.wav', 1, 6),
      wavFile('02 Ebb.wav', 2, 6),
      wavFile('02 Ebb (Instrumental).wav', 3, 6),
      wavFile('03 ebb_acapella.wav', 4, 6),
    ]);
    await page.goto(url(`/albums/${id}/masters`));
    // Titles of the test’s songs are numbers: the file’s name is what tells.
    const offer = page.getByRole('region', { name: 'Alternate versions found' });
    await expect(offer.getByRole('listitem')).toHaveText([
      /02 Ebb \(Instrumental\)\.wav → track 2 .*instrumental/,
      /03 ebb_acapella\.wav → track 2 .*a cappella/,
    ]);
    await offer.getByRole('button', { name: 'Use as alternate versions' }).click();
    await saved(page);
    expect((await serverAlbum(id)).songs.map(({ alternates }) => Object.keys(alternates))).toEqual([
      [],
      ['instrumental', 'a cappella'],
    ]);
    await expect(offer).toHaveCount(0);
    await expect(page.getByText('track 2 (instrumental)')).toBeVisible();

    // The table tells what is there; a kind is called otherwise; a recording is taken off and undone.
    await page.getByRole('link', { name: 'Alternate versions' }).click();
    const table = page.getByRole('table');
    await expect(table.getByRole('row')).toHaveCount(3);
    const name = page.getByRole('textbox', { name: 'Name of the version “a cappella”' });
    await name.fill('voices');
    await name.press('Enter');
    await page.getByRole('button', { name: 'Remove instrumental of track 2' }).click();
    await saved(page);
    expect(Object.keys((await serverAlbum(id)).songs[1]?.alternates ?? {})).toEqual(['voices']);
    // It is in no place now, and is dragged to the first song by hand.
    const free = page.getByTitle('Drag into the table');
    await expect(free).toHaveText(/02 Ebb \(Instrumental\)\.wav/);
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await expect(free).toHaveCount(0);
    await page.keyboard.press('Control+Shift+Z');
    const [from, to] = [
      await free.boundingBox(),
      await page.getByRole('combobox', { name: 'File for voices of track 1' }).boundingBox(),
    ];
    if (!from || !to) throw new Error('nothing to drag');
    await page.mouse.move(from.x + 30, from.y + 10);
    await page.mouse.down();
    await page.mouse.move(from.x + 40, from.y, { steps: 3 });
    await page.mouse.move(to.x + 40, to.y + 10, { steps: 6 });
    await page.mouse.up();
    // A drop becomes an edit a moment later.
    await expect
      .poll(async () => Object.keys((await serverAlbum(id)).songs[0]?.alternates ?? {}))
      .toEqual(['voices']);
    // Taken back: first where it was dragged to, then that it was taken off.
    await page.keyboard.press('Control+Z');
    await page.keyboard.press('Control+Z');
    await saved(page);

    // In the transport the album is heard with it, and goes over while it plays.
    await page.goto(url(`/albums/${id}/sequence`));
    await expect.poll(() => tableTitles(page)).toEqual(['Song 1', 'Song 2']);
    await page.getByRole('button', { name: 'Play track 2' }).click();
    await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
    await page.waitForTimeout(500);
    const chooser = page.getByRole('combobox', { name: 'Version to play' });
    await chooser.selectOption('instrumental');
    await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
    await expect(page.getByText('The sound broke off')).toHaveCount(0);
    await page.keyboard.press('r');
    await expect(chooser).toHaveValue('voices');
    await page.keyboard.press('Space');

    // A deliverable takes several at once, and says what is missing before anything is written.
    await page.goto(url(`/albums/${id}/render`));
    await page.getByRole('button', { name: /^files/ }).click();
    await page.getByRole('checkbox', { name: 'instrumental' }).check();
    const files = page.getByRole('table', { name: 'Files of files' });
    await expect(files).toContainText('02 Song 2 (instrumental).flac');
    await expect(page.getByText('1 of 2 tracks of “files” have no “instrumental”')).toBeVisible();
    await saved(page);
    await page.getByRole('button', { name: /^Render/ }).click();
    await expect(page.getByText('verified', { exact: true })).toHaveCount(2, { timeout: 60_000 });
    await page.goto(url(`/albums/${id}/proof`));
    await expect(page.getByText('02 Song 2 (instrumental).flac').first()).toBeVisible({ timeout: 40_000 });
  },
);
