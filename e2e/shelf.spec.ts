import { readFile } from 'node:fs/promises';
import type { AlbumFile } from '@oiseau/album/file';
import type { Album } from '@oiseau/album/model';
import { expect } from '@playwright/test';
import { test } from './installation.js';
import { CONTRACT } from '@oiseau/api';
import { call, makeAlbum, serverAlbum, serverTracks, url, wavFile } from './support.js';

test('albums are duplicated, deleted and brought back', async ({ page }) => {
  await makeAlbum('Shelf test', [wavFile('s.wav', 5, 5)]);
  await page.goto(url('/'));
  await expect(page.getByRole('link', { name: /^Shelf test|Shelf test No performer/ }).first()).toBeVisible();
  await page.getByRole('button', { name: 'Actions for Shelf test' }).click();
  await page.getByRole('button', { name: 'Duplicate', exact: true }).click();
  await expect(page.getByText('Shelf test (copy)').first()).toBeVisible();
  await page.getByRole('button', { name: 'Actions for Shelf test (copy)' }).click();
  await page.getByRole('button', { name: 'Delete', exact: true }).click();
  await expect(page.getByText('“Shelf test (copy)” was deleted.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Actions for Shelf test (copy)' })).toHaveCount(0);
  await page.locator('.notices').getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('button', { name: 'Actions for Shelf test (copy)' })).toBeVisible();
});

test('an album leaves as a file and comes back with masters that are chosen beside it', async ({ page }) => {
  const id = await makeAlbum('Travels', [wavFile('travel one.wav', 6, 5), wavFile('travel two.wav', 7, 5)]);
  await page.goto(url('/'));
  await page.getByRole('button', { name: 'Actions for Travels' }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Download album file' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('Travels.json');
  const file = JSON.parse(await readFile(await download.path(), 'utf8')) as AlbumFile;
  // The first track is to have another master, whichever that is.
  const tracks = file.tracks.map((track, i) =>
    i === 0 ? { ...track, master: 'fresh.wav', masterSha256: null } : track,
  );
  const text = JSON.stringify({ ...file, tracks });

  await page.getByRole('button', { name: 'Open an album file' }).click();
  const dialog = page.getByRole('dialog');
  await dialog
    .getByLabel(/Album file/)
    .setInputFiles([{ name: 'Travels.json', mimeType: 'application/json', buffer: Buffer.from(text) }]);
  await expect(dialog).toContainText('fresh.wav missing; select it as well');
  await expect(dialog).toContainText('travel two.wav already stored');
  await expect(dialog.getByRole('button', { name: 'Open' })).toBeDisabled();
  await dialog.getByLabel(/Album file/).setInputFiles([wavFile('fresh.wav', 8, 5)]);
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
  await dialog.getByLabel(/Album file/).setInputFiles([
    {
      name: 'x.json',
      mimeType: 'application/json',
      buffer: Buffer.from('{"format":"oiseau-album","version":1,"tracks":[],"colour":1}'),
    },
  ]);
  await expect(dialog.getByRole('alert')).toContainText('colour: unknown key.');
});

/** More than the 64 KiB that a browser carries on for a page that goes. */
const large = (album: Album): Album => ({
  ...album,
  songs: Array.from({ length: 60 }, (_, i) => ({
    ...(album.songs[0] as Album['songs'][number]),
    id: `t${i + 1}`,
    comment: 'x'.repeat(3000),
  })),
});

test('an edit right before the Shelf is gone to is kept, however large the album is', async ({ page }) => {
  const id = await makeAlbum('Large', [wavFile('one.wav', 1, 5)], large);
  await page.goto(url(`/albums/${id}/sleeve`));
  await page.getByLabel('Label', { exact: true }).fill('Low Light');
  await page.getByLabel('Label', { exact: true }).press('Enter');
  await page.getByRole('link', { name: 'Shelf' }).click();
  await expect.poll(async () => (await serverAlbum(id)).label).toBe('Low Light');
});

test('an edit is there again when its window was reloaded or closed right after it, whether the server heard of it or not', async ({
  page,
  context,
}) => {
  const id = await makeAlbum('Left at once', [wavFile('a.wav', 61, 5)], large);
  const label = page.getByLabel('Label', { exact: true });
  // Nothing that the window says reaches the server.
  await page.route(`**/api/albums/${id}`, (route) =>
    route.request().method() === 'PATCH' ? route.abort() : route.continue(),
  );
  await page.goto(url(`/albums/${id}/sleeve`));
  await label.fill('Low Light');
  await label.press('Enter');
  await page.reload();
  await expect(label).toHaveValue('Low Light');
  // What a window says while it goes may slip past the route; then there is nothing to be brought back.
  if ((await serverAlbum(id)).label !== 'Low Light')
    await expect(page.getByText('Unsaved edits from your last visit were restored.')).toBeVisible();
  await page.close();
  const next = await context.newPage();
  await next.goto(url(`/albums/${id}/sleeve`));
  await expect(next.getByLabel('Label', { exact: true })).toHaveValue('Low Light');
  await expect.poll(async () => (await serverAlbum(id)).label).toBe('Low Light');
  await next.reload();
  await expect(next.getByLabel('Label', { exact: true })).toHaveValue('Low Light');
  await expect(next.getByText('Edits of your last visit')).toHaveCount(0);
});

test('edits that were left behind are offered as a copy where somebody else has changed the album since', async ({
  page,
  context,
}) => {
  const id = await makeAlbum('Apart', [wavFile('a.wav', 62, 5)], large);
  await page.route(`**/api/albums/${id}`, (route) =>
    route.request().method() === 'PATCH' ? route.abort() : route.continue(),
  );
  await page.goto(url(`/albums/${id}/sleeve`));
  await page.getByLabel('Label', { exact: true }).fill('Mine');
  await page.getByLabel('Label', { exact: true }).press('Enter');
  // A window that is killed says nothing more; one that goes would, past the route.
  await page.goto('chrome://crash').catch(() => undefined);
  const { version, album } = await call(CONTRACT.album, { params: { id } });
  await call(CONTRACT.saveAlbum, { params: { id }, body: { version, album: { ...album, label: 'Theirs' } } });
  const next = await context.newPage();
  await next.goto(url(`/albums/${id}/sleeve`));
  await expect(next.getByLabel('Label', { exact: true })).toHaveValue('Theirs');
  await next.getByRole('button', { name: 'Save as a copy' }).click();
  await expect(next).not.toHaveURL(new RegExp(id));
  await expect(next.getByRole('heading', { name: 'Apart (my edits)' })).toBeVisible();
  const [, copy = ''] = /albums\/([^/]+)/.exec(next.url()) ?? [];
  expect([(await serverAlbum(id)).label, (await serverAlbum(copy)).label]).toEqual(['Theirs', 'Mine']);
});

test('several albums are chosen and saved as one ZIP; what is rendered anywhere stands on the Shelf', async ({
  page,
}) => {
  const ids = await Promise.all(
    // The minute five times: it is still being rendered when the Shelf looks.
    ['Zipped one', 'Zipped two'].map((title, i) =>
      makeAlbum(title, [wavFile(`zip ${i}.wav`, 181 + i, i === 0 ? 60 : 5, 96_000)], (album) => ({
        ...album,
        songs: Array.from({ length: 5 }, (_, n) =>
          album.songs.map((song) => ({ ...song, id: `t${n + 1}` })),
        ).flat(),
      })),
    ),
  );
  await page.goto(url('/'));
  await page.getByRole('button', { name: 'Select' }).click();
  await page.getByLabel('Select Zipped one').check();
  await page.getByLabel('Select Zipped two').check();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save 2 albums with their masters (ZIP)' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('2 albums.zip');
  await call(CONTRACT.orderRenders, { params: { id: ids[0] ?? '' }, body: {} });
  const queue = page.getByRole('region', { name: 'Render queue' });
  await expect(queue).toContainText('Zipped one');
  for (const { id } of await call(CONTRACT.deliveries, { params: { id: ids[0] ?? '' }, query: {} }))
    await call(CONTRACT.stopRender, { params: { id } });
  await expect(queue).toHaveCount(0);
});
