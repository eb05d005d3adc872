import { readFile } from 'node:fs/promises';
import { expect } from '@playwright/test';
import { test } from './installation.js';
import { unzipSync } from 'fflate';
import { tableTitles, saved, testWord, url, wavFile, wordCell } from './support.js';

/** Sample n of a stereo 16-bit WAV file with the plain 44-byte header. */
const sample = (wav: Uint8Array, n: number, channel: 0 | 1): number =>
  new DataView(wav.buffer, wav.byteOffset).getInt16(44 + n * 4 + channel * 2, true) / 32_768;

test('from dropped masters to the downloaded ZIP, sample for sample', async ({ page }) => {
  await page.goto(url('/'));
  await page.getByRole('button', { name: 'New album' }).first().click();
  await expect(page.getByText('Drop finished masters here')).toBeVisible();

  await page
    .getByLabel('Master files')
    .setInputFiles([
      wavFile('10_neap.wav', 3, 4.5),
      wavFile('02_lantern_oil.wav', 2, 6),
      wavFile('01 - Lamp Lit.wav', 1, 5),
      { name: 'notes.txt', mimeType: 'text/plain', buffer: Buffer.from('not audio') },
      { ...wavFile('cut.wav', 4, 2), buffer: wavFile('cut.wav', 4, 2).buffer.subarray(0, 3000) },
      { name: 'words.wav', mimeType: 'audio/wav', buffer: Buffer.from('only words in here') },
    ]);
  await expect(page.getByText('3 files were not imported:')).toBeVisible();
  await expect(page.getByRole('alert')).toContainText('notes.txt “.txt” files aren’t supported. Use WAV,');
  await expect(page.getByRole('alert')).toContainText('cut.wav The file is truncated');
  await expect(page.getByRole('alert')).toContainText('words.wav This isn’t an audio file');
  await expect(page.getByRole('row', { name: /02_lantern_oil\.wav/ })).toContainText('track 2');
  await expect(page.getByRole('img', { name: 'Waveform of 10_neap.wav' })).toBeVisible();

  await page.getByRole('link', { name: /Sequence/ }).click();
  await expect.poll(() => tableTitles(page)).toEqual(['Lamp Lit', 'lantern oil', 'neap']);
  const title = page.getByLabel('Title of track 2');
  await title.fill('Lantern Oil');
  await title.press('Enter');
  const gap = page.getByLabel('Gap before track 2');
  await gap.fill('500 ms');
  await gap.press('Enter');
  await expect(gap).toHaveValue('0.50 s');
  // 2 s + 5 s + 0.5 s = 7.5 s = 562.5 frames, rounded down
  await expect(page.getByLabel('Start of track 2')).toHaveValue('00:07:37');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(gap).toHaveValue('2.00 s');
  await page.keyboard.press('Control+Shift+Z');
  await expect(gap).toHaveValue('0.50 s');

  await page.getByRole('link', { name: /Sleeve/ }).click();
  for (const [label, text] of [
    ['Album title', 'Nine Tides'],
    ['Performer', 'Marram Lamps'],
    ['UPC/EAN', '2012345678903'],
  ] as const) {
    await page.getByLabel(label, { exact: true }).fill(text);
    await page.getByLabel(label, { exact: true }).press('Enter');
  }
  await wordCell(page, 1, 'ISRC').click();
  await page.keyboard.type('zz ois 26 00001');
  await page.keyboard.press('Enter');
  await expect(wordCell(page, 1, 'ISRC')).toHaveText('ZZ-OIS-26-00001');

  await page.getByRole('link', { name: /Render/ }).click();
  await page.getByRole('button', { name: 'Render 2 deliverables' }).click();
  await expect(page.locator('.delivery.done')).toHaveCount(2, { timeout: 60_000 });
  await page.locator('.delivery', { hasText: 'image' }).getByRole('link', { name: 'Proof' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'Verified.' })).toBeVisible();

  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'All files as ZIP' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('Nine Tides r1 image.zip');
  const files = unzipSync(await readFile(await download.path()));
  expect(Object.keys(files).sort()).toEqual([
    ...['image/SHA256SUMS', 'image/image.cue', 'image/image.wav', 'image/proof.json'],
  ]);
  const image = files['image/image.wav'] ?? new Uint8Array();
  // 5 + 0.5 + 6 + 2 + 4.5 s = 18 s = 1350 sectors, untouched: the masters' own words
  expect(image.length).toBe(44 + 1350 * 2352);
  const starts = [0, 5.5, 13.5].map((seconds) => seconds * 44_100);
  starts.forEach((start, i) => {
    for (const n of [0, 1, 2, 777, 99_999]) {
      expect(sample(image, start + n, 0)).toBe(testWord(i + 1, n));
      expect(sample(image, start + n, 1)).toBe(-testWord(i + 1, n));
    }
  });
  expect(sample(image, 5 * 44_100, 0)).toBe(0);
  expect(new TextDecoder().decode(files['image/image.cue']).split('\r\n').slice(0, 9)).toEqual([
    'CATALOG 2012345678903',
    'PERFORMER "Marram Lamps"',
    'TITLE "Nine Tides"',
    'FILE "image.wav" WAVE',
    '  TRACK 01 AUDIO',
    '    TITLE "Lamp Lit"',
    '    PERFORMER "Marram Lamps"',
    '    ISRC ZZOIS2600001',
    '    INDEX 01 00:00:00',
  ]);
  await saved(page);
});
