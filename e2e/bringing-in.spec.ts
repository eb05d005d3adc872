import { execFileSync } from 'node:child_process';
import { CONTRACT } from '@oiseau/api';
import { expect } from '@playwright/test';
import { test } from './installation.js';
import { call, makeAlbum, saved, serverAlbum, serverTracks, url, wavFile, type TestFile } from './support.js';

const titles = async (id: string): Promise<string[]> => (await serverTracks(id)).map(({ title }) => title);

test('files that come again add nothing, newer ones are offered in one table, the rest are tracks', async ({
  page,
}) => {
  const [lamp, oil, salt] = [
    wavFile('01 Lamp.wav', 61, 8),
    wavFile('02 Oil.wav', 62, 9),
    wavFile('03 Salt.wav', 63, 7),
  ];
  const id = await makeAlbum('Delivered twice', [lamp, oil, salt]);
  const before = await serverAlbum(id);
  await page.goto(url(`/albums/${id}/masters`));
  await page
    .getByLabel('Master files')
    .setInputFiles([
      lamp,
      { ...wavFile('x', 64, 9.5), name: '02 Oil_v2.wav' },
      { ...wavFile('x', 65, 7), name: '03 Salt (master 2).wav' },
      wavFile('04 Slack Water.wav', 66, 6),
    ]);
  await expect(page.getByRole('status').filter({ hasText: 'is already in this album' })).toContainText(
    '“01 Lamp.wav” is already in this album (identical bytes). Nothing was added.',
  );
  const offers = page.getByRole('region', { name: 'Newer versions found' });
  await expect(offers.getByRole('row')).toHaveCount(3);
  await expect(offers.getByRole('row', { name: /Oil_v2/ })).toContainText('track 2');
  await expect(offers.getByRole('row', { name: /Oil_v2/ })).toContainText('Length: 0:00.500 longer');
  // What is new is a track already, in its place behind the others.
  await expect.poll(() => titles(id)).toEqual(['Song 1', 'Song 2', 'Song 3', 'Slack Water']);
  // One of both is no newer version.
  await offers.getByRole('checkbox', { name: /03 Salt/ }).uncheck();
  await expect(offers.getByRole('checkbox', { name: /02 Oil/ })).toBeChecked();
  await offers.getByRole('button', { name: 'Replace 1, add the other as a track' }).click();
  await expect(offers).toHaveCount(0);
  await saved(page);
  await expect
    .poll(() => titles(id))
    .toEqual(['Song 1', 'Song 2', 'Song 3', 'Slack Water', 'Salt (master 2)']);
  const after = await serverAlbum(id);
  expect(after.songs[1]?.region.master).not.toBe(before.songs[1]?.region.master);
  expect({ ...after.songs[1]?.region, master: '' }).toEqual({ ...before.songs[1]?.region, master: '' });
  const masters = await call(CONTRACT.masters, { params: { id }, query: {} });
  expect(masters.find(({ name }) => name === '02 Oil_v2.wav')).toMatchObject({
    awaits: false,
    replaces: before.songs[1]?.region.master,
  });
  // Nothing of it comes back with the next visit.
  await page.reload();
  await expect(page.getByRole('link', { name: '04 Slack Water.wav' })).toBeVisible();
  await expect(offers).toHaveCount(0);
  expect(await titles(id)).toHaveLength(5);
});

test('what was on its way when somebody left the album becomes tracks in the order of the names', async ({
  page,
}) => {
  const { id } = await call(CONTRACT.createAlbum, { body: { title: 'Left alone' } });
  await page.goto(url(`/albums/${id}/masters`));
  // A slow line, so that there is time to leave.
  await page.route('**/api/uploads/**', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 300));
    await route.continue();
  });
  await page
    .getByLabel('Master files')
    .setInputFiles([wavFile('2 Oil.wav', 72, 6), wavFile('1 Lamp.wav', 71, 6), wavFile('3 Salt.wav', 73, 6)]);
  await page.getByRole('link', { name: 'Shelf' }).click();
  await expect(page.getByRole('heading', { name: /Shelf/ })).toBeVisible();
  const masters = async () =>
    (await call(CONTRACT.masters, { params: { id }, query: {} })).map(({ awaits }) => awaits);
  await expect.poll(masters, { timeout: 30_000 }).toEqual([true, true, true]);
  expect(await titles(id)).toEqual([]);
  // The next window that opens the album has them as tracks; here it is the same one.
  await page.goto(url(`/albums/${id}/sequence`));
  await expect.poll(() => titles(id), { timeout: 40_000 }).toEqual(['Lamp', 'Oil', 'Salt']);
  await expect.poll(masters).toEqual([false, false, false]);
});

test('uploads are stopped, one and all, and leave nothing', async ({ page }) => {
  const { id } = await call(CONTRACT.createAlbum, { body: { title: 'Stopped' } });
  await page.goto(url(`/albums/${id}/masters`));
  let open: () => void = () => undefined;
  const gate = new Promise<void>((resolve) => (open = resolve));
  await page.route('**/api/uploads/**', async (route) => {
    if (route.request().method() === 'PATCH') await gate;
    await route.continue().catch(() => undefined);
  });
  await page
    .getByLabel('Master files')
    .setInputFiles(['1 a', '2 b', '3 c', '4 d'].map((name, i) => wavFile(`${name}.wav`, 80 + i, 4)));
  const coming = page.getByRole('region', { name: 'Importing' });
  await expect(coming.getByRole('listitem')).toHaveCount(4);
  await coming.getByRole('button', { name: 'Stop 1 a.wav' }).click();
  await expect(coming.getByRole('listitem')).toHaveCount(3);
  await coming.getByRole('button', { name: 'Stop all' }).click();
  await expect(coming).toHaveCount(0);
  open();
  await page.waitForTimeout(1000);
  expect(await call(CONTRACT.masters, { params: { id }, query: {} })).toEqual([]);
  expect(await titles(id)).toEqual([]);
});

test('masters that nothing plays are taken out and put back, or become tracks, all at once', async ({
  page,
}) => {
  const id = await makeAlbum('Too many', [wavFile('b.wav', 91, 4), wavFile('a.wav', 92, 4)]);
  for (const name of ['d.wav', 'c.wav'])
    await call(
      CONTRACT.sendMaster,
      { params: { id }, query: { name } },
      { file: new Uint8Array(wavFile(name, 93 + name.charCodeAt(0), 4).buffer) },
    );
  await page.goto(url(`/albums/${id}/masters`));
  const names = () => page.locator('.master .file-name').allTextContents();
  // In the order of the album, then by name.
  await expect.poll(names).toEqual(['b.wav', 'a.wav', 'c.wav', 'd.wav']);
  await page.getByRole('button', { name: 'Remove c.wav' }).click();
  await expect.poll(names).toEqual(['b.wav', 'a.wav', 'd.wav']);
  await page.getByRole('button', { name: 'Undo' }).last().click();
  await expect.poll(names).toEqual(['b.wav', 'a.wav', 'c.wav', 'd.wav']);
  await page.getByRole('button', { name: 'Remove unused masters' }).click();
  await expect.poll(names).toEqual(['b.wav', 'a.wav']);
  await page.getByRole('button', { name: 'Undo' }).last().click();
  await page.getByRole('button', { name: 'Add all as tracks' }).click();
  await expect.poll(() => titles(id)).toEqual(['Song 1', 'Song 2', 'c', 'd']);
});

test('words that lie in files are offered for all tracks and the album in one table', async ({ page }) => {
  const flac = (file: TestFile, words: Readonly<Record<string, string>>): TestFile => ({
    name: file.name.replace('.wav', '.flac'),
    mimeType: 'audio/flac',
    buffer: execFileSync(
      'ffmpeg',
      [
        ...['-v', 'error', '-i', 'pipe:0'],
        ...Object.entries(words).flatMap(([name, text]) => ['-metadata', `${name}=${text}`]),
        ...['-f', 'flac', 'pipe:1'],
      ],
      { input: file.buffer },
    ),
  });
  const id = await makeAlbum('Said by the files', [
    flac(wavFile('1.wav', 95, 4), { title: 'Lamp Lit', artist: 'Ebba Thole', album: 'Nine Tides' }),
    flac(wavFile('2.wav', 96, 4), { title: 'Lantern Oil', artist: 'Ebba Thole', album: 'Nine Tides' }),
    wavFile('3.wav', 97, 4),
  ]);
  await page.goto(url(`/albums/${id}/masters`));
  await page.getByRole('button', { name: 'Embedded tags' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('row', { name: /the album/ })).toContainText('Nine Tides');
  await dialog.getByRole('checkbox', { name: /track 2/ }).uncheck();
  await dialog.getByRole('button', { name: 'Use tags for 2 entries' }).click();
  await saved(page);
  await expect.poll(() => titles(id)).toEqual(['Lamp Lit', 'Song 2', 'Song 3']);
  expect((await serverAlbum(id)).title).toBe('Nine Tides');
  await page.keyboard.press('Control+z');
  await expect.poll(() => titles(id)).toEqual(['Song 1', 'Song 2', 'Song 3']);
});
