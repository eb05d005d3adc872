import { readFile } from 'node:fs/promises';
import { deliverableSchema, type Album } from '@oiseau/album/model';
import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';
import { installation, test } from './installation.js';
import { CONTRACT } from '@oiseau/api';
import sharp from 'sharp';
import { call, makeAlbum, proved, url, wavFile } from './support.js';

interface Standin {
  readonly kind: string;
  readonly url: string;
  readonly token: string;
}

async function tell(kind: string, path: string, body: object): Promise<void> {
  const all = JSON.parse(await readFile(installation().standins, 'utf8')) as Standin[];
  const found = all.find((each) => each.kind === kind);
  const headers = { Authorization: `Bearer ${found?.token ?? ''}`, 'Content-Type': 'application/json' };
  await fetch(`${found?.url ?? ''}${path}`, { method: 'PUT', headers, body: JSON.stringify(body) });
}
const behave = (kind: string, mode: string): Promise<void> => tell(kind, '/behaviour', { mode });

test.afterEach(async () => {
  for (const kind of ['drive', 'plant', 'shop', 'service']) await behave(kind, 'none');
  await tell('drive', '/medium', { kind: '80' });
});

/** An album with all that a shop asks for, rendered and proved. */
async function provedAlbum(title: string, settings: object, upc: string): Promise<string> {
  const picture = await sharp({ create: { width: 3000, height: 3000, channels: 3, background: '#205a78' } })
    .png()
    .toBuffer();
  const { sha256: artwork } = await call(
    CONTRACT.sendPicture,
    { query: { name: 'cover.png' } },
    { file: new Uint8Array(picture) },
  );
  const id = await makeAlbum(title, [wavFile('one.wav', 1, 5), wavFile('two.wav', 2, 6)], (album: Album) => ({
    ...album,
    ...{ performer: 'Marram Lamps', label: 'Low Light', upc, releaseDate: '2026-11-09', artwork },
    ...{ copyright: '2026 Low Light', phonogram: '2026 Low Light' },
    songs: album.songs.map((song, i) => ({ ...song, isrc: `ZZOIS261${upc.slice(-3)}${i + 1}` })),
    deliverables: [deliverableSchema.parse({ name: 'out', ...settings })],
  }));
  await call(CONTRACT.orderRenders, { params: { id }, body: { by: 'Ada' } });
  await proved(id, 1);
  return id;
}

const line = (page: Page, name: string) =>
  page.getByRole('region', { name: 'Deliveries' }).getByRole('listitem').filter({ hasText: name }).first();

test('an image goes to a plant, which sends its own table of marks; the same revision sent again says so', async ({
  page,
}) => {
  const id = await provedAlbum('Plant', { kind: 'ddp' }, '2000000001012');
  await page.goto(url(`/albums/${id}/proof`));
  await page.getByRole('link', { name: /Handover/ }).click();
  await expect(page.getByText('Loaded: blank disc, 80 min.')).toBeVisible();
  await page.getByRole('button', { name: 'Send the image' }).click();
  const handed = line(page, 'Low Water Pressing');
  await expect(handed).toContainText('shipped', { timeout: 30_000 });
  await handed.getByRole('button', { name: 'Receipt' }).click();
  const table = page.getByRole('table', { name: /Marks of Plant/ });
  // Two seconds of pause, five of the first song, two of gap.
  await expect(table.getByRole('row').nth(2)).toContainText('00:02:00');
  await expect(table.getByRole('row').nth(4)).toContainText('00:09:00');
  await expect(page.getByText(/This revision was already sent/)).toBeVisible();
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag22aa']).analyze();
  expect(violations.map(({ id: rule, nodes }) => `${rule}: ${nodes[0]?.html ?? ''}`)).toEqual([]);
  // An edit, another revision: what has changed is told before it is sent.
  const { version, album } = await call(CONTRACT.album, { params: { id } });
  const songs = album.songs.map((song, i) => (i === 0 ? { ...song, title: 'Ebb Tide' } : song));
  await call(CONTRACT.saveAlbum, { params: { id }, body: { version, album: { ...album, songs } } });
  await call(CONTRACT.orderRenders, { params: { id }, body: {} });
  await proved(id, 2);
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Send out' })).toBeVisible({
    timeout: 60_000,
  });
  await page.getByRole('button', { name: 'Changes since' }).click();
  await expect(page.locator('.changes')).toContainText('Ebb Tide');
});

test('a refusal leads to the place to fix', async ({ page }) => {
  const id = await provedAlbum('Shop', { kind: 'package', bits: 16 }, '2000000002019');
  await behave('shop', 'refuses');
  await page.goto(url(`/albums/${id}/handover`));
  await page.getByRole('button', { name: 'Send the package' }).click();
  const handed = line(page, 'Samphire Records');
  await expect(handed).toContainText('“The title of track 1 is in capitals only.”', { timeout: 30_000 });
  await behave('shop', 'none');
  await page.getByRole('button', { name: 'Send the package' }).click();
  await expect(handed).toContainText('live', { timeout: 30_000 });
  await page.getByRole('link', { name: 'Show in Sleeve' }).click();
  await expect(page).toHaveURL(/sleeve\?song=/);
});

test('a disc is written twice and read back; what the drive minds is said', async ({ page }) => {
  const id = await provedAlbum('Disc', { kind: 'cue' }, '2000000003016');
  await page.goto(url(`/albums/${id}/handover`));
  await page.getByLabel('Copies').selectOption('2');
  await page.getByLabel('Test write first').check();
  await page.getByRole('button', { name: 'Write', exact: true }).click();
  const handed = line(page, 'Lantern Room Drive');
  await expect(handed).toContainText('Copy 1: 1,125 sectors read back', { timeout: 30_000 });
  await expect(handed).toContainText('The loaded disc isn’t blank.');
  await handed.getByRole('button', { name: 'blank disc 74' }).click();
  await expect(handed).toContainText('Copy 2: 1,125 sectors read back', { timeout: 30_000 });
  await expect(handed).toContainText('written and read back', { timeout: 30_000 });
  await tell('drive', '/medium', { kind: '80' });
  await behave('drive', 'reading-errors');
  await page.getByRole('button', { name: 'Write', exact: true }).click();
  await expect(handed).toContainText('the audio of 1 sector differs, first at 00:10:27', { timeout: 30_000 });
});

test('a service is sent files over a line that breaks, paused, and gone on with', async ({ page }) => {
  const id = await provedAlbum('Stream', { kind: 'tracks', format: 'wav' }, '2000000004013');
  await behave('service', 'slow');
  await page.goto(url(`/albums/${id}/handover`));
  await page.getByRole('button', { name: 'Send the files' }).click();
  const handed = line(page, 'Shingle Stream');
  await expect(handed).toContainText('uploading', { timeout: 30_000 });
  await handed.getByRole('button', { name: 'Pause' }).click();
  await expect(handed).toContainText('paused', { timeout: 30_000 });
  await behave('service', 'full');
  await handed.getByRole('button', { name: 'Resume' }).click();
  await expect(handed).toContainText('The recipient’s storage is full. Retrying.', { timeout: 30_000 });
  await behave('service', 'none');
  await expect(handed).toContainText('accepted', { timeout: 60_000 });
  await handed.getByRole('button', { name: 'Receipt' }).click();
  await expect(page.getByRole('table', { name: /Playback loudness/ })).toContainText('−14.0 LUFS');
});

test('another receiver is set up, whose token is never shown again', async ({ page }) => {
  const id = await provedAlbum('Elsewhere', { kind: 'ddp' }, '2000000005010');
  await page.goto(url(`/albums/${id}/handover`));
  await page.getByRole('button', { name: 'Recipients' }).click();
  const dialog = page.getByRole('dialog', { name: 'Recipients' });
  await dialog.getByLabel('Name').fill('North Quay Pressing');
  await dialog.getByLabel('Address').fill('http://127.0.0.1:9/');
  await dialog.getByLabel('Token').fill('most-secret-word');
  await dialog.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(dialog.getByRole('row', { name: /North Quay Pressing/ })).toBeVisible();
  await dialog.getByRole('button', { name: 'Edit North Quay Pressing' }).click();
  await expect(dialog.getByLabel('New token')).toHaveValue('');
  await dialog.getByRole('button', { name: 'Close' }).click();
  const taker = page.getByRole('listitem').filter({ hasText: 'North Quay Pressing' });
  await expect(taker).toContainText('can’t be reached', { timeout: 15_000 });
  await taker.getByRole('button', { name: 'Send the image' }).click();
  const handed = line(page, 'North Quay Pressing');
  await expect(handed).toContainText('Retrying.', { timeout: 30_000 });
  await handed.getByRole('button', { name: 'Stop' }).click();
  await expect(handed).toContainText('stopped', { timeout: 15_000 });
});
