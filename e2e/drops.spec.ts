import { CONTRACT } from '@oiseau/api';
import { expect, type Page } from '@playwright/test';
import { test } from './installation.js';
import sharp from 'sharp';
import { call, makeAlbum, serverAlbum, serverTracks, url, wavFile } from './support.js';

/** Lets files go over an element, as a hand does that brings them from elsewhere. */
async function drop(
  page: Page,
  selector: string,
  files: readonly { readonly name: string; readonly type: string; readonly bytes: Buffer }[],
): Promise<void> {
  const given = files.map(({ name, type, bytes }) => ({ name, type, text: bytes.toString('base64') }));
  await page.locator(selector).evaluate((element, list) => {
    const data = new DataTransfer();
    for (const { name, type, text } of list)
      data.items.add(new File([Uint8Array.from(atob(text), (c) => c.charCodeAt(0))], name, { type }));
    for (const name of ['dragenter', 'dragover', 'drop'])
      element.dispatchEvent(new DragEvent(name, { bubbles: true, cancelable: true, dataTransfer: data }));
  }, given);
}
const wav = (name: string, seed: number) => {
  const { buffer } = wavFile(name, seed, 3);
  return { name, type: 'audio/wav', bytes: buffer };
};

test('files that are dropped on any view come in; a picture on the Sleeve becomes the cover, and goes again', async ({
  page,
}) => {
  const id = await makeAlbum('Dropped', [wavFile('a.wav', 141, 4)]);
  const titles = async () => (await serverTracks(id)).map(({ title }) => title);
  await page.goto(url(`/albums/${id}/checks`));
  await expect(page.getByRole('heading', { name: 'Checks' })).toBeVisible();
  await drop(page, '.album-view', [wav('b.wav', 142)]);
  await expect(page.getByText('Importing 1 file.')).toBeVisible();
  await expect.poll(titles).toEqual(['Song 1', 'b']);
  expect(page.url()).toContain('/checks');
  const bytes = await sharp({ create: { width: 600, height: 600, channels: 3, background: '#204060' } })
    .png()
    .toBuffer();
  const cover = { name: 'cover.png', type: 'image/png', bytes };
  await drop(page, '.album-view', [cover]);
  await expect(page.getByText('To set artwork, drop the picture on the Sleeve.')).toBeVisible();
  expect((await serverAlbum(id)).artwork).toBeNull();
  await page.goto(url(`/albums/${id}/sleeve`));
  await expect(page.getByRole('button', { name: 'Choose a cover' })).toBeVisible();
  await drop(page, '.album-view', [cover]);
  await expect.poll(async () => (await serverAlbum(id)).artwork).toMatch(/^[0-9a-f]{64}$/);
  await page.getByRole('button', { name: 'Remove cover' }).click();
  await expect.poll(async () => (await serverAlbum(id)).artwork).toBeNull();
});

test('an album file that is dropped on the Shelf is opened, and nothing makes the browser leave the page', async ({
  page,
}) => {
  const first = await makeAlbum('From a file', [wavFile('c.wav', 143, 4)]);
  const file = await page.request.get(url(`/api/albums/${first}/file`));
  await page.goto(url('/'));
  await expect(page.getByRole('heading', { name: 'Shelf' })).toBeVisible();
  await drop(page, '.shelf', [{ name: 'album.json', type: 'application/json', bytes: await file.body() }]);
  const dialog = page.getByRole('dialog', { name: 'Open an album file' });
  await expect(dialog).toContainText('already stored');
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await drop(page, '.shelf', [wav('lost.wav', 144)]);
  await expect(page.getByText('Masters belong to an album')).toBeVisible();
  // Beside every place for it: the page says that it takes nothing, so that the browser does not show the file.
  const prevented = await page.evaluate(() => {
    const data = new DataTransfer();
    data.items.add(new File(['x'], 'x.wav'));
    const event = new DragEvent('drop', { bubbles: true, cancelable: true, dataTransfer: data });
    document.documentElement.dispatchEvent(event);
    return event.defaultPrevented;
  });
  expect(prevented).toBe(true);
  expect((await call(CONTRACT.shelf, { query: { q: 'From a file' } })).albums).toHaveLength(1);
});
