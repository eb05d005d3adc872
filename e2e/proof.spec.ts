import { expect } from '@playwright/test';
import { test } from './installation.js';
import { makeAlbum, saved, url, wavFile } from './support.js';

test('the rendered file is heard with its marks, noted, and the note leads back to its place', async ({
  page,
}) => {
  const id = await makeAlbum('Last listen', [wavFile('l.wav', 16, 5), wavFile('m.wav', 17, 6)], (album) => ({
    ...album,
    deliverables: album.deliverables.slice(0, 1),
  }));
  await page.goto(url(`/albums/${id}/render`));
  await page.getByLabel('Requested by').fill('Ada');
  await page.getByRole('button', { name: 'Render 1 deliverable' }).click();
  await expect(page.locator('.delivery.done')).toContainText('requested by Ada', { timeout: 60_000 });
  await page.getByRole('link', { name: 'Proof', exact: true }).click();
  await expect(page.getByText('null test')).toBeVisible();

  const listening = page.getByRole('region', { name: 'Proof listening' });
  // On paper there is nothing to press, point at or choose: what was proved and the whole checksums stand there in words.
  await page.getByRole('button', { name: 'Use the dim theme' }).click();
  await page.emulateMedia({ media: 'print' });
  await expect(page.locator('body')).toHaveCSS('color', 'rgb(35, 40, 43)');
  await expect(
    page.getByText(
      /^Revision 1, .*: Disc image.*16 bit, 44\.1 kHz\. Rendered .* requested by Ada\. Rendered by Oiseau \d+\.\d+\.\d+ with FFmpeg \S+\.$/,
    ),
  ).toBeVisible();
  await expect(page.locator('.proof-table tbody th').first()).toContainText(/[0-9a-f]{64}/);
  await expect(page.getByRole('combobox', { name: 'Delivery' })).toBeHidden();
  await expect(listening).toBeHidden();
  await page.emulateMedia({ media: 'screen' });
  await expect(page.getByText(/^Revision 1, .* requested by Ada/)).toBeHidden();
  // Song 2 begins at 5 + 2 s of the image, which begins with song 1.
  await listening.getByRole('button', { name: '2 0:07' }).click();
  const clock = page.getByLabel('Position on the disc');
  const seconds = async (): Promise<number> => {
    const [minutes = '0', rest = '0'] = (await clock.textContent())?.split(':') ?? [];
    return 60 * Number(minutes) + Number(rest);
  };
  await expect.poll(seconds).toBeGreaterThan(7.1);
  // The transport and the last listen are one.
  await expect(page.getByRole('contentinfo', { name: 'Transport' })).toContainText('image, revision 1');
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect(page.getByRole('img', { name: /Waveform of the rendered/ })).toBeVisible();
  await page.keyboard.press('m');
  const notes = listening.getByRole('list', { name: 'Notes' });
  await expect(notes.getByRole('listitem')).toHaveCount(1);
  const note = notes.getByRole('textbox');
  await note.fill('a click');
  await note.press('Enter');
  await page.reload();
  await expect(notes.getByRole('textbox')).toHaveValue('a click');
  await notes.getByRole('link', { name: 'Track 2: show in Sequence' }).click();
  await expect(page).toHaveURL(/sequence\?song=t2$/);
  await expect(page.getByRole('row', { name: /track 2/ })).toHaveAttribute('aria-current', 'true');
});

test('two states of the album are compared in words, an older one is brought back, files are cleared and made again', async ({
  page,
}) => {
  const id = await makeAlbum('Round again', [wavFile('n.wav', 18, 5), wavFile('o.wav', 19, 6)], (album) => ({
    ...album,
    deliverables: album.deliverables.slice(0, 1),
  }));
  await page.goto(url(`/albums/${id}/render`));
  await page.getByRole('button', { name: 'Render 1 deliverable' }).click();
  await expect(page.locator('.delivery.done')).toBeVisible({ timeout: 60_000 });

  await page.getByRole('link', { name: /Sequence/ }).click();
  const gap = page.getByLabel('Gap before track 2');
  await gap.fill('3');
  await gap.press('Enter');
  await saved(page);
  await page.getByRole('link', { name: /^Proof/ }).click();
  const changes = page.getByRole('region', { name: 'Compare revisions' });
  await expect(changes.getByRole('listitem')).toHaveText([
    'track 2 starts 1.00 s later',
    'the disc ends at 0:16.00 instead of 0:15.00',
  ]);
  await changes.getByRole('button', { name: 'Restore revision 1' }).click();
  await expect(changes.getByText('No differences between revision 1 and current album.')).toBeVisible();

  await page.getByRole('link', { name: /^Render/ }).click();
  await page.getByRole('button', { name: 'Delete the files of image, revision 1' }).click();
  await expect(page.locator('.delivery')).toContainText('files deleted');
  await page.locator('.delivery').getByRole('button', { name: 'Render again' }).click();
  await expect(page.locator('.delivery').getByRole('link', { name: 'ZIP' })).toBeVisible({ timeout: 60_000 });
});
