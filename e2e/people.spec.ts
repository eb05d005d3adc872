import { CONTRACT } from '@oiseau/api';
import { expect } from '@playwright/test';
import { installation, test } from './installation.js';
import { call, makeAlbum, url, wavFile } from './support.js';

const OUTSIDE = { cookies: [], origins: [] };

test.describe('whoever comes without a session', () => {
  test.use({ storageState: OUTSIDE });

  test('sees nothing until the address is shown that carries the key, which then leaves the address', async ({
    page,
  }) => {
    await makeAlbum('Behind the door', [wavFile('one.wav', 1, 5)]);
    await page.goto(url('/'));
    await expect(page.getByText('You need a link to open Oiseau.')).toBeVisible();
    await expect(page.getByRole('link', { name: /^Behind the door/ })).toHaveCount(0);
    await page.getByLabel('Link').fill('http://127.0.0.1/#key=nonsense');
    await page.getByRole('button', { name: 'Sign in' }).click();
    await expect(page.getByText('That link isn’t valid.')).toBeVisible();
    await page.goto(url(`/#key=${installation().key}`));
    await expect(page.getByRole('link', { name: /^Behind the door/ })).toBeVisible();
    expect(page.url()).toBe(url('/'));
    await page.reload();
    await expect(page.getByRole('link', { name: /^Behind the door/ })).toBeVisible();
    expect(await page.evaluate(() => document.cookie)).toBe('');
  });

  test('goes on where a session ended, and what was typed last is saved', async ({ page }) => {
    const id = await makeAlbum('Session', [wavFile('one.wav', 1, 5)]);
    await page.goto(url(`/#key=${installation().key}`));
    await page.waitForURL(url('/'));
    await page.goto(url(`/albums/${id}/sleeve`));
    await expect(page.getByLabel('Label', { exact: true })).toBeVisible();
    await page.context().clearCookies();
    await page.getByLabel('Label', { exact: true }).fill('Low Light');
    await page.getByLabel('Label', { exact: true }).press('Enter');
    await page.getByRole('dialog').getByLabel('Link').fill(installation().key);
    await page.getByRole('button', { name: 'Sign in' }).click();
    await expect(page.getByRole('dialog')).toHaveCount(0);
    await expect
      .poll(async () => (await call(CONTRACT.album, { params: { id } })).album.label, { timeout: 20_000 })
      .toBe('Low Light');
  });
});

test('somebody is let in to one album as a guest, hears and notes what was rendered, and is put out again', async ({
  page,
  browser,
}) => {
  const open = await makeAlbum('Open to Ebba', [wavFile('one.wav', 1, 5)], (album) => ({
    ...album,
    deliverables: album.deliverables.filter(({ name }) => name === 'image'),
  }));
  await makeAlbum('Closed to Ebba', [wavFile('two.wav', 2, 5)]);
  await call(CONTRACT.orderRenders, { params: { id: open }, body: {} });
  await page.goto(url('/'));
  await page.getByRole('button', { name: 'Give access' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Ebba Thole');
  await page.getByRole('radio', { name: 'Guest' }).check();
  await page.getByRole('radio', { name: 'Only these:' }).check();
  await page.getByRole('checkbox', { name: 'Open to Ebba' }).check();
  await page.getByRole('button', { name: 'Create link' }).click();
  const address = await page.getByLabel('Link for Ebba Thole').inputValue();
  expect(address).toMatch(/#key=[\w-]{43}$/);
  await expect
    .poll(async () => (await call(CONTRACT.deliveries, { params: { id: open }, query: {} }))[0]?.state)
    .toBe('done');

  const guest = await browser.newContext({ storageState: OUTSIDE });
  const theirs = await guest.newPage();
  await theirs.goto(address);
  await expect(theirs.getByRole('link', { name: /^Open to Ebba/ })).toBeVisible();
  await expect(theirs.getByRole('link', { name: /^Closed to Ebba/ })).toHaveCount(0);
  await expect(theirs.getByRole('button', { name: 'New album' })).toHaveCount(0);
  await theirs.getByRole('link', { name: /^Open to Ebba/ }).click();
  await expect(theirs.getByRole('heading', { name: 'Proof', exact: true })).toBeVisible();
  await expect(theirs.getByRole('navigation', { name: 'Steps of the album' }).getByRole('link')).toHaveText([
    'Shelf',
    /^Proof/,
  ]);
  await expect(theirs.getByRole('link', { name: 'All files as ZIP' })).toHaveCount(0);
  await theirs.goto(url(`/albums/${open}/sleeve`));
  await expect(theirs.getByRole('heading', { name: 'Proof', exact: true })).toBeVisible();
  await theirs.getByRole('button', { name: 'Add a note here' }).click();
  await theirs.getByRole('textbox', { name: 'Note at 0:00.0' }).fill('softer here');
  await theirs.getByRole('textbox', { name: 'Note at 0:00.0' }).press('Enter');

  await page.goto(url(`/albums/${open}/proof`));
  await expect(page.getByRole('list', { name: 'Notes' })).toContainText('Ebba Thole');
  await page.goto(url('/'));
  await page.getByRole('button', { name: 'Access' }).click();
  await page.getByRole('button', { name: 'Revoke Ebba Thole’s access' }).click();
  await expect(page.getByText('Ebba Thole’s access was revoked.')).toBeVisible();
  await theirs.reload();
  await expect(theirs.getByText('You need a link to open Oiseau.')).toBeVisible();
  await guest.close();
});

test('a server that is away is told of, and what was typed meanwhile is saved when it is back', async ({
  page,
}) => {
  const id = await makeAlbum('Away', [wavFile('one.wav', 1, 5)]);
  await page.goto(url(`/albums/${id}/sleeve`));
  const label = page.getByLabel('Label', { exact: true });
  await expect(label).toBeVisible();
  await page.route('**/api/**', (route) => route.abort('connectionrefused'));
  await label.fill('Low Light');
  await label.press('Enter');
  await expect(page.getByText('Retrying every two seconds')).toBeVisible();
  await page.unroute('**/api/**');
  await expect(page.getByText('Retrying every two seconds')).toHaveCount(0, { timeout: 10_000 });
  await expect
    .poll(async () => (await call(CONTRACT.album, { params: { id } })).album.label, { timeout: 15_000 })
    .toBe('Low Light');
});
