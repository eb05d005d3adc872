import AxeBuilder from '@axe-core/playwright';
import { CONTRACT } from '@oiseau/api';
import { deliverableSchema, type Album } from '@oiseau/album/model';
import { expect, type Browser, type Page } from '@playwright/test';
import { test } from './installation.js';
import { call, makeAlbum, proved, url, wavFile } from './support.js';

/** An album of two songs, 5 and 6 s long and 2 s apart, rendered as tracks. */
async function provedAlbum(title: string): Promise<string> {
  const id = await makeAlbum(title, [wavFile('j.wav', 41, 5), wavFile('k.wav', 42, 6)], (album) => ({
    ...album,
    deliverables: [deliverableSchema.parse({ name: 'files', kind: 'tracks', format: 'flac' })],
  }));
  await render(id, 1);
  return id;
}

async function render(id: string, revision: number): Promise<void> {
  await call(CONTRACT.orderRenders, { params: { id }, body: { by: 'Ada' } });
  await proved(id, revision);
}

/** Creates a listener's link to the newest delivery. @returns the link, which is shown once */
async function invite(
  page: Page,
  id: string,
  fill: (dialog: ReturnType<Page['getByRole']>) => Promise<void>,
) {
  await page.goto(url(`/albums/${id}/proof`));
  await page.getByRole('button', { name: 'Share for approval' }).click();
  const dialog = page.getByRole('dialog');
  await fill(dialog);
  await dialog.getByRole('button', { name: 'Create link' }).click();
  const address = await dialog.getByLabel(/^Link for/).inputValue();
  await dialog.getByRole('button', { name: 'Close' }).click();
  return address;
}

/** A listener's browser: no session, no storage. */
const stranger = (browser: Browser, width: number, height: number) =>
  browser.newContext({ viewport: { width, height }, storageState: { cookies: [], origins: [] } });

test('somebody without a key listens on a telephone, notes and answers, and sees on the next revision what was met', async ({
  page,
  browser,
}) => {
  const id = await provedAlbum('Heard elsewhere');
  const address = await invite(page, id, async (dialog) => {
    await dialog.getByLabel('Name').fill('Ebba Thole');
    await dialog.getByLabel('Password (optional)').fill('nine tides');
  });
  await expect(page.getByRole('list', { name: 'Listeners' })).toContainText('not opened yet');

  const phone = await stranger(browser, 390, 844);
  const theirs = await phone.newPage();
  await theirs.goto(address);
  await theirs.getByLabel('Password').fill('ten tides');
  await theirs.getByRole('button', { name: 'Listen' }).click();
  await expect(theirs.getByText('That password isn’t right. Try again.')).toBeVisible();
  await theirs.getByLabel('Password').fill('nine tides');
  await theirs.getByRole('button', { name: 'Listen' }).click();
  await expect(theirs.getByRole('heading', { name: 'Heard elsewhere' })).toBeVisible();
  await expect(theirs.getByText('2.0 s of silence')).toBeVisible();
  // Song 2 begins at 5 + 2 s.
  await theirs.getByRole('button', { name: /Song 2/ }).click();
  await expect(theirs.getByLabel('Position')).toHaveText(/0:0[789]/, { timeout: 10_000 });
  await theirs.getByRole('button', { name: 'Stop' }).click();
  await theirs.getByRole('button', { name: 'Add a note here' }).click();
  const field = theirs.getByRole('textbox', { name: /^Note at 2 Song 2/ });
  await expect(field).toBeFocused();
  await field.fill('too soon');
  expect(await theirs.evaluate(() => document.documentElement.scrollWidth <= 390)).toBe(true);
  expect((await new AxeBuilder({ page: theirs }).analyze()).violations.map(({ id: rule }) => rule)).toEqual(
    [],
  );
  await theirs.getByRole('button', { name: 'Send response' }).click();
  await expect(theirs.getByRole('alert')).toHaveText('Do you approve this, or would you like a change?');
  await theirs.getByLabel('Request a change').check();
  await theirs.getByLabel('Comment').fill('More air.');
  await theirs.getByRole('button', { name: 'Send response' }).click();
  await expect(theirs.getByText('You requested a change to revision 1')).toBeVisible();
  // What was typed is kept by itself, and is there for who comes back without a password.
  await theirs.reload();
  await expect(theirs.getByRole('textbox', { name: /^Note at/ })).toHaveValue('too soon');

  // At the desk: beside one's own notes, with the way to its place, ticked off when it is met.
  await page.reload();
  await expect(page.getByRole('list', { name: 'Listener responses' })).toContainText(
    'Ebba Thole requested a change',
  );
  const note = page
    .getByRole('list', { name: 'Notes' })
    .getByRole('listitem')
    .filter({ hasText: 'too soon' });
  await expect(note).toContainText('Ebba Thole');
  await expect(note.getByRole('textbox')).toHaveCount(0);
  await note.getByRole('checkbox').check();
  await expect(page.getByText('1 of 1 notes is done.')).toBeVisible();
  await note.getByRole('link', { name: 'Track 2: show in Sequence' }).click();
  await expect(page).toHaveURL(/\/sequence\?song=t2$/);

  // The next revision, for the same listener, on a computer.
  const { version, album } = await call(CONTRACT.album, { params: { id } });
  const songs: Album['songs'] = album.songs.map((song) => ({ ...song, title: `${song.title}, later` }));
  await call(CONTRACT.saveAlbum, { params: { id }, body: { version, album: { ...album, songs } } });
  await render(id, 2);
  const next = await invite(page, id, async (dialog) => {
    await dialog.getByLabel('Who').selectOption({ label: 'Ebba Thole, who had revision 1' });
  });
  const desk = await stranger(browser, 1280, 800);
  const again = await desk.newPage();
  await again.goto(next);
  const became = again.getByRole('region', { name: 'Your earlier notes' });
  await expect(became.getByRole('listitem')).toContainText('Done: “too soon”');
  await became.getByRole('button', { name: 'Play in revision 2' }).click();
  await expect(again.getByLabel('Position')).toHaveText(/0:(0[789]|1\d)/, { timeout: 10_000 });
  await again.getByLabel('Approve').check();
  await again.getByRole('button', { name: 'Send response' }).click();
  await expect(again.getByText('You approved revision 2')).toBeVisible();

  // The approval stays with the delivery and stands on paper with the bytes; the history has it all.
  await page.goto(url(`/albums/${id}/proof`));
  const answers = page.getByRole('list', { name: 'Listener responses' });
  await expect(answers).toContainText('Approved by Ebba Thole');
  await page.emulateMedia({ media: 'print' });
  await expect(answers).toContainText(/\.flac: SHA-256 [0-9a-f]{64}/);
  await page.emulateMedia({ media: 'screen' });
  await page.goto(url(`/albums/${id}/handover`));
  const history = page.getByRole('region', { name: 'Deliveries', exact: true }).getByRole('listitem');
  await expect(history).toHaveText([
    /files ← Ebba Thole.*approved/,
    /files → Ebba Thole/,
    /requested a change/,
    /→ Ebba Thole/,
  ]);

  // Taken back: what they do next is the last thing that they see.
  await history.nth(1).getByRole('button', { name: 'Revoke link' }).click();
  await expect(page.getByText('The link of Ebba Thole was revoked.')).toBeVisible();
  await again.reload();
  await expect(again.getByRole('alert')).toContainText('That link isn’t valid');
  await phone.close();
  await desk.close();
});

test('an address opens nothing else, and a part of it nothing at all', async ({ page, browser }) => {
  const id = await provedAlbum('Only this');
  const address = await invite(page, id, (dialog) => dialog.getByLabel('Name').fill('Olin Marr'));
  const context = await stranger(browser, 1280, 800);
  const theirs = await context.newPage();
  await theirs.goto(address);
  await expect(theirs.getByRole('heading', { name: 'Only this' })).toBeVisible();
  // Nothing of the application shows, and its doors stay shut.
  await expect(theirs.getByRole('navigation')).toHaveCount(0);
  await theirs.goto(url(`/albums/${id}/sequence`));
  await expect(theirs.getByText('You need a link to open Oiseau.')).toBeVisible();
  expect((await theirs.request.get(url(`/api/albums/${id}`))).status()).toBe(401);
  const fresh = await stranger(browser, 1280, 800);
  const guess = await fresh.newPage();
  await guess.goto(address.split('#')[0] ?? '');
  await expect(guess.getByRole('alert')).toContainText('including the part after #');
  await guess.goto(`${address.slice(0, -1)}`);
  await guess.reload();
  await expect(guess.getByRole('alert')).toContainText('That link isn’t valid');
  await context.close();
  await fresh.close();
});
