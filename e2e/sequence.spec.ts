import { expect, type BrowserContext, type Page } from '@playwright/test';
import { HEARD, test } from './installation.js';
import { tableTitles, makeAlbum, saved, serverTracks, url, wavFile } from './support.js';

const files = [wavFile('a.wav', 1, 12), wavFile('b.wav', 2, 12, 96_000, 'int24'), wavFile('c.wav', 3, 12)];
const open = async (page: Page, title: string): Promise<string> => {
  const id = await makeAlbum(title, files);
  await page.goto(url(`/albums/${id}/sequence`));
  await expect(page.getByRole('row', { name: 'track 3: Song 3' })).toBeVisible();
  return id;
};

test.describe('order', () => {
  test('is changed by keys, undone and saved by itself', async ({ page }) => {
    const id = await open(page, 'Keys');
    await page.getByRole('row', { name: 'track 1: Song 1' }).focus();
    await page.keyboard.press('Alt+ArrowDown');
    expect(await tableTitles(page)).toEqual(['Song 2', 'Song 1', 'Song 3']);
    await expect(page.getByRole('row', { name: 'track 2: Song 1' })).toBeFocused();
    await page.keyboard.press('Alt+ArrowDown');
    await saved(page);
    expect((await serverTracks(id)).map(({ title }) => title)).toEqual(['Song 2', 'Song 3', 'Song 1']);
    await expect(page.getByRole('button', { name: 'Undo' })).toHaveAttribute('title', /“Song 1” from 2 to 3/);
    await page.keyboard.press('Control+Z');
    await page.keyboard.press('Control+Z');
    expect(await tableTitles(page)).toEqual(['Song 1', 'Song 2', 'Song 3']);
  });

  test('a song that was taken out comes back alone, whatever was done since', async ({ page }) => {
    const id = await open(page, 'Its own step');
    await page.getByRole('row', { name: 'track 2: Song 2' }).focus();
    await page.keyboard.press('Delete');
    await expect(page.locator('tr.track')).toHaveCount(2);
    await page.getByLabel('Title of track 1').fill('Renamed');
    await page.getByLabel('Title of track 1').press('Enter');
    await page.locator('.notices').getByRole('button', { name: 'Undo' }).click();
    await expect.poll(() => tableTitles(page)).toEqual(['Renamed', 'Song 2', 'Song 3']);
    await saved(page);
    expect((await serverTracks(id)).map(({ title }) => title)).toEqual(['Renamed', 'Song 2', 'Song 3']);
  });

  test('is changed by dragging, but never by a stray press of three pixels', async ({ page }) => {
    await open(page, 'Drag');
    const grip = (row: number) => page.locator('tr.track').nth(row).locator('.grip span');
    const centre = async (row: number): Promise<{ x: number; y: number }> => {
      const box = await grip(row).boundingBox();
      if (!box) throw new Error('no grip');
      return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
    };
    const from = await centre(0);
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    await page.mouse.move(from.x, from.y + 3);
    await page.mouse.up();
    expect(await tableTitles(page)).toEqual(['Song 1', 'Song 2', 'Song 3']);
    const to = await centre(2);
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    await page.mouse.move(from.x, from.y + 20, { steps: 4 });
    await page.mouse.move(to.x, to.y + 4, { steps: 8 });
    await page.mouse.up();
    await expect.poll(() => tableTitles(page)).toEqual(['Song 2', 'Song 3', 'Song 1']);
    await page.keyboard.press('Control+Z');
    expect(await tableTitles(page)).toEqual(['Song 1', 'Song 2', 'Song 3']);
  });

  test('a track is taken out by Delete and brought back by Undo', async ({ page }) => {
    await open(page, 'Delete');
    await page.getByRole('row', { name: 'track 2: Song 2' }).focus();
    await page.keyboard.press('Delete');
    expect(await tableTitles(page)).toEqual(['Song 1', 'Song 3']);
    await page.locator('.notices').getByRole('button', { name: 'Undo' }).click();
    expect(await tableTitles(page)).toEqual(['Song 1', 'Song 2', 'Song 3']);
  });
});

test('a gap that is no time is refused while typing, and Escape leaves the field as it was', async ({
  page,
}) => {
  await open(page, 'Gaps');
  const gap = page.getByLabel('Gap before track 2');
  await gap.fill('soon');
  await expect(page.getByText('Seconds, 250 ms, 1:02.5, MM:SS:FF or “2 beats”.')).toBeVisible();
  await gap.press('Escape');
  await expect(gap).toHaveValue('2.00 s');
  await gap.fill('-1');
  await gap.press('Enter');
  await expect(gap).toHaveValue('−1.00 s');
  // 2 + 12 − 1 s
  await expect(page.getByLabel('Start of track 2')).toHaveValue('00:13:00');
  await expect(page.getByRole('meter', { name: 'Time used on the disc' })).toHaveAttribute(
    'aria-valuetext',
    '0:39 of 79:57',
  );
});

test.describe('hearing it', () => {
  const clock = async (page: Page): Promise<number> => {
    const [minutes = '0', seconds = '0'] = (await page.locator('.transport-clock').innerText()).split(':');
    return Number(minutes) * 60 + Number(seconds);
  };

  test('Space starts and stops, and the sound does not break off', { tag: HEARD }, async ({ page }) => {
    await open(page, 'Play');
    await page.keyboard.press('Space');
    await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
    await expect.poll(() => clock(page)).toBeGreaterThan(3);
    await expect(page.locator('.transport-track')).toContainText('Song 1');
    await expect
      .poll(async () =>
        Number(await page.getByRole('meter', { name: /Sample peak/ }).getAttribute('aria-valuenow')),
      )
      .toBeGreaterThan(-20);
    await expect(page.getByText('The sound broke off')).toHaveCount(0);
    await page.keyboard.press('Space');
    const stopped = await clock(page);
    await page.waitForTimeout(400);
    expect(await clock(page)).toBe(stopped);
  });

  test(
    'plays from a press on the Skyline and from the start of a track at another rate',
    { tag: HEARD },
    async ({ page }) => {
      await open(page, 'Places');
      const box = await page.getByRole('slider', { name: /Skyline/ }).boundingBox();
      if (!box) throw new Error('no Skyline');
      // The disc lasts 42 s; three quarters of the way is 31.5 s, in song 3 (30–42 s).
      await page.mouse.click(box.x + 20 + (box.width - 50) * 0.75, box.y + 80);
      await expect.poll(() => clock(page)).toBeGreaterThan(31);
      expect(await clock(page)).toBeLessThan(34);
      await expect(page.locator('.transport-track')).toContainText('Song 3');
      await page.getByRole('button', { name: 'Play track 2' }).click();
      await expect(page.locator('.transport-track')).toContainText('Song 2');
      await expect.poll(() => clock(page)).toBeGreaterThan(18);
      await expect(page.getByText('The sound broke off')).toHaveCount(0);
    },
  );

  test('Space is the transport’s after a click on a button, the button’s after Tab', async ({ page }) => {
    await open(page, 'Space');
    await page.getByRole('button', { name: 'Use the dim theme' }).click();
    await page.keyboard.press('Space');
    await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
    await expect(page.getByRole('button', { name: 'Use the light theme' })).toBeVisible();
    await page.keyboard.press('Space');
    await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
    await page.keyboard.press('Tab');
    await expect(page.getByRole('button', { name: 'Keys' })).toBeFocused();
    await page.keyboard.press('Space');
    await expect(page.getByRole('dialog')).toContainText('Play from the mark, or stop');
  });

  test('the keys on the Skyline move the mark', async ({ page }) => {
    await open(page, 'Mark');
    const skyline = page.getByRole('slider', { name: /Skyline/ });
    await skyline.focus();
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('ArrowRight');
    await expect(skyline).toHaveAttribute('aria-valuetext', '0:10');
    await page.keyboard.press('End');
    await expect(skyline).toHaveAttribute('aria-valuetext', '0:42');
  });
});

/** Changes a title in the track table. */
async function titleTrack(page: Page, number: number, title: string): Promise<void> {
  const cell = page.getByLabel(`Title of track ${number}`);
  await cell.fill(title);
  await cell.press('Enter');
}

/** Another window calls track 1 “Theirs”; the first hears nothing of it, as one does whose line is slow, while `edit` is done there. */
async function whileAway(page: Page, context: BrowserContext, title: string, edit: () => Promise<void>) {
  const id = await open(page, title);
  const other = await context.newPage();
  await other.goto(url(`/albums/${id}/sequence`));
  // The album itself is asked for too, whenever the channel of changes breaks off.
  const ofAlbum = ({ pathname }: URL): boolean => pathname.startsWith(`/api/albums/${id}`);
  await page.route(ofAlbum, (route) => route.abort());
  await titleTrack(other, 1, 'Theirs');
  await expect.poll(async () => (await serverTracks(id))[0]?.title).toBe('Theirs');
  await edit();
  await page.unroute(ofAlbum);
  return { id, other };
}

test('two windows edit one album at a time, and each has what both have done', async ({ page, context }) => {
  const id = await open(page, 'Two windows');
  const other = await context.newPage();
  await other.goto(url(`/albums/${id}/sequence`));
  await Promise.all([titleTrack(page, 2, 'Mine'), titleTrack(other, 1, 'Theirs')]);
  for (const each of [page, other])
    await expect.poll(() => tableTitles(each)).toEqual(['Theirs', 'Mine', 'Song 3']);
  expect((await serverTracks(id)).map(({ title }) => title)).toEqual(['Theirs', 'Mine', 'Song 3']);
  // Undo takes back one's own, and leaves what the other has done.
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /^Undo/ }).click();
  for (const each of [page, other])
    await expect.poll(() => tableTitles(each)).toEqual(['Theirs', 'Song 2', 'Song 3']);
});

test('two windows that change the same field are shown both, and nobody’s edits are overwritten', async ({
  page,
  context,
}) => {
  const { id, other } = await whileAway(page, context, 'Same field', async () => {
    await titleTrack(page, 1, 'Mine');
    await titleTrack(page, 2, 'Second');
  });
  const alert = page.getByRole('alert').filter({ hasText: 'changed the same fields' });
  await expect(alert).toContainText('track 1: title “Theirs” → “Mine”');
  expect((await serverTracks(id)).map(({ title }) => title)).toEqual(['Theirs', 'Song 2', 'Song 3']);
  await page.getByRole('button', { name: 'Keep mine', exact: true }).click();
  await expect(alert).toHaveCount(0);
  await expect.poll(() => tableTitles(other)).toEqual(['Mine', 'Second', 'Song 3']);
});

test('edits that conflict can be kept as an album of their own', async ({ page, context }) => {
  const { id } = await whileAway(page, context, 'Apart', () => titleTrack(page, 1, 'Mine'));
  await page.getByRole('button', { name: 'Keep mine as a copy' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Apart (my edits)');
  await page.getByRole('link', { name: /Sequence/ }).click();
  expect(await tableTitles(page)).toEqual(['Mine', 'Song 2', 'Song 3']);
  expect((await serverTracks(id)).map(({ title }) => title)).toEqual(['Theirs', 'Song 2', 'Song 3']);
});

test('a window without edits of its own follows the other by itself', async ({ page, context }) => {
  const id = await open(page, 'Follow');
  const other = await context.newPage();
  await other.goto(url(`/albums/${id}/sequence`));
  await other.getByLabel('Title of track 1').fill('Renamed there');
  await other.getByLabel('Title of track 1').press('Enter');
  await expect.poll(() => tableTitles(page)).toEqual(['Renamed there', 'Song 2', 'Song 3']);
});
