import { mkdtemp, mkdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { CONTRACT } from '@oiseau/api';
import { deliverableSchema } from '@oiseau/album/model';
import { expect } from '@playwright/test';
import { test } from './installation.js';
import { unzipSync } from 'fflate';
import { call, makeAlbum, url, wavFile } from './support.js';

test('a folder plays from a disk on a telephone, and the answer that it saves is taken in', async ({
  page,
  browser,
}) => {
  const id = await makeAlbum('To hear', [wavFile('h.wav', 31, 5), wavFile('i.wav', 32, 6)], (album) => ({
    ...album,
    deliverables: [deliverableSchema.parse({ name: 'listen', kind: 'listening', format: 'wav' })],
  }));
  await call(CONTRACT.orderRenders, { params: { id }, body: { by: 'Ada' } });
  const newest = async () => (await call(CONTRACT.deliveries, { params: { id }, query: {} }))[0];
  await expect.poll(async () => (await newest())?.proof?.proved, { timeout: 60_000 }).toBe(true);
  const zip = await page.request.get(url(`/api/deliveries/${(await newest())?.id ?? ''}/zip`));
  const folder = await mkdtemp(join(tmpdir(), 'oiseau-listen-'));
  try {
    for (const [name, bytes] of Object.entries(unzipSync(new Uint8Array(await zip.body())))) {
      await mkdir(dirname(join(folder, name)), { recursive: true });
      await writeFile(join(folder, name), bytes);
    }
    const phone = await browser.newContext({ viewport: { width: 390, height: 844 }, acceptDownloads: true });
    const other = await phone.newPage();
    const asked: string[] = [];
    other.on('request', (request) => asked.push(request.url()));
    await other.goto(pathToFileURL(join(folder, 'listen/listen.html')).href);
    await expect(other.getByRole('heading', { name: 'To hear' })).toBeVisible();
    // Song 2 begins at 5 + 2 s.
    await other.getByRole('button', { name: /Song 2/ }).click();
    await expect(other.locator('.clock')).toHaveText(/0:0[789]/, { timeout: 10_000 });
    await other.getByRole('button', { name: 'Stop' }).click();
    await other.getByRole('button', { name: 'Add a note here' }).click();
    await other.getByRole('textbox', { name: /^Note at/ }).fill('too soon');
    expect(await other.evaluate(() => document.documentElement.scrollWidth <= 390)).toBe(true);
    await other.getByRole('button', { name: 'Save response' }).click();
    await expect(other.getByRole('status')).toHaveText('Enter your name.');
    await other.getByLabel('Your name').fill('Ebba Thole');
    await other.getByLabel('Approve').check();
    const download = other.waitForEvent('download');
    await other.getByRole('button', { name: 'Save response' }).click();
    const answer = join(folder, 'answer.json');
    await (await download).saveAs(answer);
    // Nothing but the page and the audio beside it was asked for.
    expect(asked.filter((address) => !/^(file|blob|data):/.test(address))).toEqual([]);
    await phone.close();

    // A visitor’s browser says in which language the page is read.
    const french = await browser.newContext({ locale: 'fr-FR' });
    const read = await french.newPage();
    await read.goto(pathToFileURL(join(folder, 'listen/listen.html')).href);
    await expect(read.getByRole('button', { name: 'Ajouter une note ici' })).toBeVisible();
    await expect(read.getByText('Révision 1')).toBeVisible();
    await french.close();

    await page.goto(url(`/albums/${id}/proof`));
    await page.getByLabel('Response file').setInputFiles(answer);
    const answers = page.getByRole('list', { name: 'Listener responses' });
    await expect(answers).toContainText('Approved by Ebba Thole');
    await expect(page.getByRole('list', { name: 'Notes' })).toContainText('Ebba Thole');
    await page.emulateMedia({ media: 'print' });
    await expect(answers).toContainText(/audio\/listen\.wav: SHA-256 [0-9a-f]{64}/);
    await page.emulateMedia({ media: 'screen' });
    // The album goes on: it is not what was approved any more.
    const { version, album } = await call(CONTRACT.album, { params: { id } });
    const songs = album.songs.map((song) => ({ ...song, title: `${song.title}, again` }));
    await call(CONTRACT.saveAlbum, { params: { id }, body: { version, album: { ...album, songs } } });
    await page.goto(url(`/albums/${id}/checks`));
    await expect(page.getByText('The album has changed since Ebba Thole approved revision 1.')).toBeVisible();
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
});
