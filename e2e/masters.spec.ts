import { CONTRACT } from '@oiseau/api';
import { execFileSync } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { withSong } from '@oiseau/album/testing';
import { secondsToTicks } from '@oiseau/audio/time';
import { encodeWords, wavHeader } from '@oiseau/audio/pcm';
import { expect, type Page } from '@playwright/test';
import { test } from './installation.js';
import { call, makeAlbum, saved, serverTracks, url, wavFile, type TestFile } from './support.js';

/** A WAV file whose channels are both `value(n)`. */
function tone(name: string, seconds: number, value: (n: number) => number, rate = 44_100): TestFile {
  const left = Float64Array.from({ length: Math.round(seconds * rate) }, (_, n) => value(n));
  const buffer = Buffer.concat([
    wavHeader('int24', rate, left.length),
    encodeWords({ left, right: left.map((v) => 0.9 * v) }, 'int24'),
  ]);
  return { name, mimeType: 'audio/wav', buffer };
}
const sine = (n: number): number => 0.3 * Math.sin((2 * Math.PI * 330 * n) / 44_100);
const encoded = (file: TestFile, name: string, ...options: string[]): TestFile => ({
  name,
  mimeType: 'audio/*',
  buffer: execFileSync('ffmpeg', ['-v', 'error', '-i', 'pipe:0', ...options, 'pipe:1'], {
    input: file.buffer,
  }),
});
const measured = (id: string): Promise<void> =>
  expect
    .poll(async () =>
      (await call(CONTRACT.masters, { params: { id }, query: {} })).every(({ measurement }) => measurement),
    )
    .toBe(true);
const openMaster = async (page: Page, id: string, name: string): Promise<void> => {
  await measured(id);
  await page.goto(url(`/albums/${id}/masters`));
  await page.getByRole('link', { name }).click();
};

test('masters of many forms come in, with a word on what is doubtful', async ({ page }) => {
  const { id } = await call(CONTRACT.createAlbum, { body: { title: 'Forms' } });
  await page.goto(url(`/albums/${id}/masters`));
  const source = tone('s.wav', 2, sine);
  // Ten samples at full scale from 1 s on
  const clipping = tone('c.wav', 2, (n) => (n >= 44_100 && n < 44_110 ? 1 : sine(n)));
  await page.getByLabel('Master files').setInputFiles([
    encoded(source, '1 plain.flac', '-f', 'flac'),
    encoded(source, '2 lossy.mp3', '-b:a', '192k', '-f', 'mp3'),
    encoded(source, '3 single.flac', '-ac', '1', '-f', 'flac'),
    { ...clipping, name: '4 clipping.wav' },
    {
      ...encoded(source, 'broken.flac', '-f', 'flac'),
      buffer: Buffer.from('fLaC, and then nothing but words'),
    },
  ]);
  await expect(page.getByRole('alert').filter({ hasText: 'not imported' })).toContainText(
    'broken.flac The file has no audio that can be decoded.',
  );
  await expect(page.getByText('“3 single.flac” is mono.')).toBeVisible();
  await page.getByRole('button', { name: 'Use on both channels' }).click();
  const row = (name: string) => page.getByRole('row', { name: new RegExp(name) });
  await expect(row('1 plain')).toContainText('FLAC');
  await expect(row('2 lossy')).toContainText('lossy file (mp3)');
  await expect(row('3 single')).toContainText('mono on both channels');
  await expect(row('4 clipping')).toContainText('clips once, at 0:01.000');
  await expect(row('3 single')).toContainText('track 4');

  await page.getByRole('button', { name: 'Choose columns' }).click();
  await page.getByLabel('Correlation').check();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Correlation' }).click();
  // Highest first: mono has the same on both sides
  await expect(page.locator('tr.master').first()).toContainText(/1\.00/);
  await page.getByRole('button', { name: 'File', exact: true }).click();
  await expect(page.locator('tr.master').first()).toContainText('1 plain.flac');
  await page.reload();
  await expect(page.getByRole('columnheader', { name: 'Correlation' })).toBeVisible();
});

test('a folder comes in without what else lies in it, and over a line that breaks', async ({ page }) => {
  const { id } = await call(CONTRACT.createAlbum, { body: { title: 'Folder' } });
  const folder = await mkdtemp(join(tmpdir(), 'oiseau-folder-'));
  await writeFile(join(folder, '02 b.wav'), tone('b', 5, sine).buffer);
  await writeFile(join(folder, '01 a.wav'), tone('a', 6, sine).buffer);
  await writeFile(join(folder, 'notes.txt'), 'take two is better');
  // The first piece of every upload is lost on the way; what follows asks how much has arrived, and goes on.
  const tries: string[] = [];
  const broken = new Set<string>();
  await page.route('**/api/uploads/*', async (route) => {
    const address = route.request().url();
    tries.push(route.request().method());
    if (route.request().method() !== 'PATCH' || broken.has(address)) return route.continue();
    broken.add(address);
    return route.abort('connectionreset');
  });
  await page.goto(url(`/albums/${id}/masters`));
  await page.getByLabel('Folder of masters').setInputFiles(folder);
  await expect(page.getByText('1 other file in the folder was skipped.')).toBeVisible();
  await expect(page.getByRole('row', { name: /02 b\.wav/ })).toContainText('track 2');
  expect(broken.size).toBe(2);
  expect(tries).toContain('HEAD');
  await saved(page);
  const tracks = await serverTracks(id);
  expect(tracks.map(({ title }) => title)).toEqual(['a', 'b']);
  await rm(folder, { recursive: true });
});

test('a master is seen large, played by itself from any point, and its clipped places are gone to', async ({
  page,
}) => {
  const id = await makeAlbum('Large', [
    wavFile('other.wav', 1, 4),
    tone('clipping.wav', 8, (n) => (n >= 5 * 44_100 && n < 5 * 44_100 + 7 ? 1 : sine(n))),
  ]);
  await openMaster(page, id, 'clipping.wav');
  const place = page.getByLabel('Position on the disc');
  await expect(page.getByText('7 samples at full scale, left · passage 1 of 1')).toBeVisible();
  await expect(page.locator('.transport-track')).toHaveText('clipping.wav');
  await page.getByRole('button', { name: '0:05.000' }).click();
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  await expect(place).toHaveText(/0:0[4-6]/);
  const silhouette = page.getByRole('img', { name: 'Waveform of clipping.wav' });
  const box = await silhouette.boundingBox();
  await silhouette.click({ position: { x: (box?.width ?? 0) / 4, y: 40 } });
  await expect(place).toHaveText(/0:0[23]/);
  // Zoomed until single samples are in sight
  const closer = page.getByRole('button', { name: 'Show the head closer' });
  while (await closer.isEnabled()) await closer.click();
  await expect(page.getByLabel('Head', { exact: true })).toContainText('44 samples');
  await expect(page.locator('.recharts-surface')).toHaveCount(3);
  // Away from it, the album is on the player again.
  await page.getByRole('link', { name: /Sequence/ }).click();
  await expect(page.locator('.transport-track')).toHaveText('In a pause');
});

test('a newer version takes a master’s place once its differences were seen', async ({ page }) => {
  const id = await makeAlbum('Versions', [tone('take.wav', 6, sine)], (album) =>
    withSong(album, 0, { gapBefore: secondsToTicks(5), title: 'Kept' }),
  );
  const before = (await serverTracks(id))[0];
  await openMaster(page, id, 'take.wav');
  await page.getByRole('button', { name: 'Replace' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Newer file').setInputFiles(tone('take.wav', 6, sine));
  await expect(dialog.getByRole('alert')).toContainText('is identical to the current file.');
  // Half as loud, and half a second longer
  await dialog.getByLabel('Newer file').setInputFiles(tone('take v2.wav', 6.5, (n) => sine(n) / 2));
  await expect(dialog.getByRole('row', { name: /Length/ })).toContainText('0:00.500 longer');
  await expect(dialog.getByRole('row', { name: /Loudness/ })).toContainText('6.0 dB quieter');
  expect((await serverTracks(id))[0]?.master).toBe(before?.master);
  await dialog.getByRole('button', { name: 'Replace', exact: true }).click();
  await expect(page.getByText('version 2 of 2')).toBeVisible();
  await saved(page);
  const after = (await serverTracks(id))[0];
  expect(after).toEqual({ ...before, master: after?.master });
  expect(after?.master).not.toBe(before?.master);
  await page.getByRole('link', { name: 'All masters' }).click();
  await page.getByRole('button', { name: 'Show 1 older version' }).click();
  await expect(page.getByRole('row', { name: /version 1 of 2/ })).toBeVisible();
  // One that is not wanted leaves nothing behind.
  await page.getByRole('link', { name: 'take v2.wav' }).click();
  await page.getByRole('button', { name: 'Replace' }).click();
  await dialog.getByLabel('Newer file').setInputFiles(tone('take v3.wav', 4, sine));
  await expect(dialog.getByRole('row', { name: /Length/ })).toContainText('shorter');
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await expect.poll(async () => (await call(CONTRACT.masters, { params: { id }, query: {} })).length).toBe(2);
});

/** Three sounds of 12, 10 and 8 s, with 3 s of silence around each: 42 s. */
const recital = (): TestFile => {
  const sounds = [
    [3, 15],
    [18, 28],
    [31, 39],
  ] as const;
  return tone('recital.wav', 42, (n) =>
    sounds.some(([from, to]) => n >= from * 44_100 && n < to * 44_100) ? sine(n) : 0,
  );
};

test('one recording is cut by its silences, by ear, by drag and by number, and becomes tracks', async ({
  page,
}) => {
  const id = await makeAlbum('Recital', [recital()]);
  await openMaster(page, id, 'recital.wav');
  await page.getByRole('link', { name: 'Cut into tracks' }).click();
  // The last sound lasts 8 s, which is no piece of at least 10: the preview says so, and follows the settings.
  await expect(page.getByText('Result: 2 pieces')).toBeVisible();
  const shortest = page.getByLabel('Minimum piece length');
  await shortest.fill('5 s');
  await shortest.press('Enter');
  await expect(page.getByText('Result: 3 pieces')).toBeVisible();
  await page.getByRole('button', { name: 'Cut at silences' }).click();
  // A breath of 0.3 s before the sounds at 18 and 31 s
  const start = (n: number) => page.getByLabel(`Start of piece ${n}`);
  await expect(start(2)).toHaveValue('0:17.700');
  await expect(start(3)).toHaveValue('0:30.700');

  await page.getByLabel('Name of piece 2').fill('Ebb');
  await page.getByLabel('Name of piece 2').press('Enter');
  await start(3).fill('30');
  await start(3).press('Enter');
  await expect(start(3)).toHaveValue('0:30.000');
  await page.getByRole('button', { name: 'Undo cut' }).click();
  await expect(start(3)).toHaveValue('0:30.700');

  // Dragged in the whole picture, 42 s wide: a tenth of it to the left
  const whole = page.getByRole('img', { name: 'Whole recording' });
  const box = (await whole.boundingBox()) ?? { x: 0, y: 0, width: 1, height: 1 };
  const x = box.x + (30.7 / 42) * box.width;
  await page.mouse.move(x, box.y + 40);
  await page.mouse.down();
  await page.mouse.move(x + 3, box.y + 40);
  await expect(start(3)).toHaveValue('0:30.700');
  await page.mouse.move(x - 0.1 * box.width, box.y + 40, { steps: 5 });
  await page.mouse.up();
  await expect(start(3)).toHaveValue(/^0:26\.[45]/);
  await page.keyboard.press('Control+z');
  await expect(start(3)).toHaveValue('0:30.700');

  // By ear: a cut where it is heard
  await page.getByRole('button', { name: 'Play piece 3' }).click();
  await expect(page.getByLabel('Position on the disc')).toHaveText(/0:3[12]/);
  await page.keyboard.press('c');
  await expect(start(4)).toHaveValue(/^0:3[12]\./);
  await page.keyboard.press('Delete');
  await expect(start(4)).toHaveCount(0);
  await page.getByLabel('Keep piece 1').uncheck();
  // Leaving the view loses nothing.
  await page.getByRole('link', { name: /Sequence/ }).click();
  await page.goBack();
  await expect(page.getByLabel('Name of piece 2')).toHaveValue('Ebb');

  await page.getByLabel('Trimmed to their sound, with gaps').check();
  await page.getByRole('button', { name: 'Create 2 tracks' }).click();
  await expect(page.getByLabel('Title of track 1')).toHaveValue('Ebb');
  await saved(page);
  const tracks = await serverTracks(id);
  const seconds = (value: number | null | undefined): number => (value ?? 0) / 705_600_000;
  expect(tracks.map((track) => [seconds(track.in), seconds(track.out)])).toEqual([
    [17.8, 29],
    [30.8, 40],
  ]);
  expect(seconds(tracks[1]?.gapBefore)).toBe(2);
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  expect(await serverTracks(id)).toHaveLength(1);
});

test('a list of times cuts as well, and tracks that run on are sample-continuous', async ({ page }) => {
  const id = await makeAlbum('Listed', [recital()]);
  await openMaster(page, id, 'recital.wav');
  await page.getByRole('link', { name: 'Cut into tracks' }).click();
  await page.getByRole('button', { name: 'From a list or cue sheet' }).click();
  const list = page.getByRole('textbox', { name: 'Times and titles' });
  await list.fill('0:00 Flood\nno time here');
  await expect(page.getByRole('alert')).toContainText('Line 2, “no time here”, has no time');
  await list.fill('0:00 Flood\n0:16.5 Ebb\n0:30 Bells');
  await page.getByRole('button', { name: 'Cut into 3 pieces' }).click();
  await page.getByLabel('Move cuts to zero crossings').uncheck();
  await page.getByRole('button', { name: 'Create 3 tracks' }).click();
  await expect(page.getByLabel('Title of track 3')).toHaveValue('Bells');
  await saved(page);
  const tracks = await serverTracks(id);
  expect(
    tracks.map(({ in: from, out, gapBefore }) =>
      [from, out, gapBefore].map((value) => (value ?? 0) / 705_600_000),
    ),
  ).toEqual([
    [0, 16.5, 2],
    [16.5, 30, 0],
    [30, 42, 0],
  ]);
});

test('heads and tails are suggested, heard, and taken over for one or for all', async ({ page }) => {
  const sound = (from: number, to: number) => (n: number) =>
    n >= from * 44_100 && n < to * 44_100 ? sine(n) : 0;
  const id = await makeAlbum('Trims', [
    tone('one.wav', 10, sound(1, 6)),
    tone('two.wav', 10, sound(0, 10)),
    tone('three.wav', 12, sound(2, 7)),
  ]);
  await measured(id);
  await page.goto(url(`/albums/${id}/masters`));
  await page.getByRole('link', { name: 'Trim heads and tails' }).click();
  const row = (n: number) => page.getByRole('row', { name: new RegExp(`^track ${n}:`) });
  // 1 s less the margin of 0.2; 6 s and the margin of 1.5
  await expect(row(1)).toContainText('0:00.800');
  await expect(row(1)).toContainText('0:07.500');
  await expect(row(2)).toContainText('unchanged');
  await row(1).getByRole('button', { name: 'Play the tail of track 1' }).click();
  await expect(page.locator('.transport-track')).toHaveText('Song 1: tail as suggested');
  await expect(page.getByLabel('Position on the disc')).toHaveText(/0:0[1-4]/);
  expect((await serverTracks(id))[0]?.out).toBeNull();
  await row(3).getByRole('button', { name: 'Trim only this' }).click();
  await saved(page);
  const inOut = async () =>
    (await serverTracks(id)).map(({ in: from, out }) => [
      from / 705_600_000,
      out === null ? null : out / 705_600_000,
    ]);
  expect(await inOut()).toEqual([
    [0, null],
    [0, null],
    [1.8, 8.5],
  ]);
  const after = page.getByLabel('Keep after the sound');
  await after.fill('0.5');
  await after.press('Enter');
  await page.getByRole('button', { name: 'Trim 2 tracks' }).click();
  await saved(page);
  expect(await inOut()).toEqual([
    [0.8, 6.5],
    [0, null],
    [1.8, 7.5],
  ]);
  await page.locator('.notices').getByRole('button', { name: 'Undo' }).last().click();
  await saved(page);
  expect((await inOut())[0]).toEqual([0, null]);
});
