import { CONTRACT } from '@oiseau/api';
import { expect } from '@playwright/test';
import { test } from './installation.js';
import { call, makeAlbum, saved, url, wavFile } from './support.js';

test('a render goes on when the window is closed, and another one is stopped', async ({ page, context }) => {
  // The same minute five times: long enough to be stopped on a fast machine as well.
  const id = await makeAlbum('Long render', [wavFile('long.wav', 9, 60, 96_000, 'int24')], (album) => ({
    ...album,
    songs: Array.from({ length: 5 }, (_, i) =>
      album.songs.map((song) => ({ ...song, id: `t${i + 1}` })),
    ).flat(),
    deliverables: album.deliverables.slice(0, 1),
  }));
  await page.goto(url(`/albums/${id}/render`));
  await page.getByRole('button', { name: 'Render 1 deliverable' }).click();
  await expect(page.locator('.delivery.running')).toContainText('× real time');
  await page.close();
  const again = await context.newPage();
  await expect
    .poll(async () => (await call(CONTRACT.deliveries, { params: { id }, query: {} }))[0]?.state, {
      timeout: 60_000,
    })
    .toBe('done');

  await again.goto(url(`/albums/${id}/render`));
  await again.getByRole('button', { name: 'Render 1 deliverable' }).click();
  await expect(again.locator('.delivery.running')).toBeVisible();
  await again.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect(again.locator('.delivery.stopped')).toBeVisible();
  await expect(again.getByRole('button', { name: 'Render again' })).toBeVisible();
});

test('errors are named, lead to their place and stand in the way of a render', async ({ page }) => {
  const id = await makeAlbum('Faulty', [wavFile('f.wav', 10, 5)]);
  await page.goto(url(`/albums/${id}/sleeve`));
  const code = page.getByLabel('UPC/EAN', { exact: true });
  await code.fill('2012345678904');
  await expect(page.getByText('The check digit (the last) should be 3, not 4.')).toBeVisible();
  await code.press('Enter');
  await saved(page);
  await page.getByRole('link', { name: /Render/ }).click();
  await expect(page.getByRole('button', { name: /^Render 2/ })).toBeDisabled();
  await page.getByRole('link', { name: 'Show in Checks' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'isn’t a valid UPC/EAN' })).toContainText(
    'Error',
  );
  await page.getByRole('link', { name: 'Show' }).first().click();
  await expect(page).toHaveURL(/sleeve$/);
});

test('an error of one deliverable holds up that one alone, and the selection stays with the album', async ({
  page,
}) => {
  const id = await makeAlbum('Unready', [wavFile('u.wav', 16, 20)]);
  await page.goto(url(`/albums/${id}/render`));
  await page.getByRole('button', { name: 'Add a deliverable' }).click();
  await page
    .getByRole('button', { name: /^Store package/ })
    .first()
    .click();
  await expect(
    page.getByText(/must be fixed before “Store package” can be rendered\. The others/),
  ).toBeVisible();
  // The two that have no errors of their own are rendered; the queue is seen at once.
  await page.getByRole('button', { name: 'Render 2 deliverables' }).click();
  const queue = page.getByRole('region', { name: 'Render queue' });
  await expect(queue).toBeVisible();
  await expect(queue).toBeInViewport();
  await expect(page.locator('.delivery.done')).toHaveCount(2, { timeout: 60_000 });
  await expect(queue).toHaveCount(0);
  await page.getByRole('checkbox', { name: /^Render Store package/ }).uncheck();
  await saved(page);
  await page.reload();
  await expect(page.getByRole('checkbox', { name: /^Render Store package/ })).not.toBeChecked();
  await expect(page.getByText(/must be fixed before/)).toHaveCount(0);
});

test('findings of one kind are accepted together', async ({ page }) => {
  const id = await makeAlbum(
    'Loud',
    [wavFile('v.wav', 17, 5), wavFile('w.wav', 18, 5), wavFile('x.wav', 19, 5)],
    (album) => ({ ...album, songs: album.songs.map((song) => ({ ...song, title: `  ${song.title}  ` })) }),
  );
  await page.goto(url(`/albums/${id}/checks`));
  const spaced = page.getByRole('listitem').filter({ hasText: 'has leading, trailing or double spaces' });
  await spaced.getByRole('button', { name: 'Accept all 3 like this …' }).click();
  await page.getByLabel('Reason for accepting all').fill('Set so on purpose.');
  await page.getByLabel('Reason for accepting all').press('Enter');
  await expect(
    page.getByRole('list', { name: 'Accepted findings' }).getByText('“Set so on purpose.”'),
  ).toHaveCount(3);
});

test('settings that mean nothing for a format are not shown', async ({ page }) => {
  const id = await makeAlbum('Settings', [wavFile('g.wav', 11, 5)]);
  await page.goto(url(`/albums/${id}/render`));
  await page.getByRole('button', { name: /^files FLAC/ }).click();
  const files = page.getByRole('region', { name: 'files' });
  const words = files.getByLabel('Bit depth').getByRole('option');
  await expect(files.getByLabel('Dither', { exact: true })).toHaveCount(0);
  await files.getByLabel('Bit depth').selectOption('16 bit');
  await expect(files.getByLabel('Dither', { exact: true })).toHaveValue('triangular');
  await expect(words).toHaveText(['16 bit', '24 bit']);
  await files.getByLabel('Format').selectOption('WAV');
  await expect(words).toHaveText(['16 bit', '24 bit', '32 bit', '32 bit float']);
  await expect(files.getByText('01 Song 1.wav')).toBeVisible();
  await files.getByLabel('Format').selectOption('MP3');
  await expect(files.getByLabel('Bit depth')).toHaveCount(0);
  await expect(files.getByLabel('Dither', { exact: true })).toHaveCount(0);
  await expect(files.getByLabel('Bit rate')).toHaveValue('b320');
  await files.getByLabel('Bit rate').selectOption('variable, quality 2');
  await files.getByLabel('Format').selectOption('Opus');
  await expect(files.getByLabel('Sample rate', { exact: true })).toHaveCount(0);
  await expect(files.getByText('01 Song 1.opus')).toBeVisible();
});

test('the plan shows every name, length and size, and what is wrong with a section', async ({ page }) => {
  const id = await makeAlbum('Plan', [wavFile('h.wav', 12, 5), wavFile('i.wav', 13, 6)]);
  await page.goto(url(`/albums/${id}/render`));
  await page.getByRole('button', { name: 'Add a deliverable' }).click();
  await page.getByRole('button', { name: /^plant/ }).click();
  const files = page.getByRole('table', { name: 'Files of plant' });
  // 2 + 5 + 2 + 6 s: 1125 sectors of 2,352 bytes.
  await expect(files.getByRole('row', { name: /IMAGE\.DAT/ })).toContainText('0:15.0');
  await expect(files.getByRole('row', { name: /IMAGE\.DAT/ })).toContainText('2.6 MB');
  await expect(page.getByText('Tracks 1–2 are bit-perfect')).toBeVisible();

  await page.getByRole('button', { name: 'Add a deliverable' }).click();
  await page.getByRole('button', { name: /^whole album/ }).click();
  await page.getByLabel('From').fill('track 2');
  await page.getByLabel('From').press('Enter');
  const whole = page.getByRole('table', { name: 'Files of whole album' });
  await expect(whole.getByRole('row', { name: /whole album\.flac/ })).toContainText('0:06.0');
  await page.getByLabel('To', { exact: true }).fill('track 2');
  await page.getByLabel('To', { exact: true }).press('Enter');
  await expect(whole.getByText('empty')).toBeVisible();
  await expect(
    page.getByText(
      '1 error must be fixed before “whole album” can be rendered. The others can be rendered now.',
    ),
  ).toBeVisible();

  await page.getByRole('button', { name: /^files FLAC/ }).click();
  await page.getByLabel('Tracks to render').fill('2');
  await page.getByLabel('Tracks to render').press('Enter');
  await page.getByLabel('Name pattern').fill('{album} {number}');
  await page.getByLabel('Name pattern').press('Enter');
  await expect(page.getByRole('table', { name: 'Files of files' }).locator('.file-name').first()).toHaveText(
    'Plan 02.flac',
  );
});

test('a form is saved as a preset and waits in every other album', async ({ page }) => {
  const first = await makeAlbum('Preset one', [wavFile('j.wav', 14, 5)]);
  const second = await makeAlbum('Preset two', [wavFile('k.wav', 15, 5)]);
  await page.goto(url(`/albums/${first}/render`));
  await page.getByRole('button', { name: 'Add a deliverable' }).click();
  await page.getByRole('button', { name: /^reference/ }).click();
  await page.getByLabel('Name of the deliverable').fill('for the band');
  await page.getByLabel('Name of the deliverable').press('Enter');
  await page.getByLabel('Bit rate').selectOption('192 kbit/s');
  await page.getByRole('button', { name: 'Save as preset' }).click();
  await expect(page.getByText('Saved “for the band” as a preset for all albums.')).toBeVisible();
  await page.goto(url(`/albums/${second}/render`));
  await page.getByRole('button', { name: 'Add a deliverable' }).click();
  await page.getByRole('button', { name: /^for the band MP3/ }).click();
  await expect(page.getByLabel('Bit rate')).toHaveValue('b192');
  // Saved over, and taken back: the preset is what it was.
  const kept = async (): Promise<unknown> =>
    (await call(CONTRACT.presets, {})).find(({ name }) => name === 'for the band')?.deliverable;
  const before = await kept();
  await page.getByLabel('Bit rate').selectOption('256 kbit/s');
  await page.getByRole('button', { name: 'Save as preset' }).click();
  const undo = page.locator('.notices').getByRole('button', { name: 'Undo' });
  await undo.click();
  await expect.poll(kept).toEqual(before);
  await page.getByRole('button', { name: 'Add a deliverable' }).click();
  await page.getByRole('button', { name: 'Delete the preset “for the band”' }).click();
  await undo.click();
  await expect.poll(kept).toEqual(before);
  await page.getByRole('button', { name: 'Add a deliverable' }).click();
  await page.getByRole('button', { name: 'Delete the preset “for the band”' }).click();
  await page.getByRole('button', { name: 'Add a deliverable' }).click();
  const menu = page.locator('.preset-menu');
  await expect(menu.getByRole('button', { name: /^plant/ })).toBeVisible();
  await expect(menu.getByRole('button', { name: /^for the band/ })).toHaveCount(0);
});

test('renders are grouped by revision, older ones folded; their files go together and come back; the end is told', async ({
  page,
}) => {
  const id = await makeAlbum('Groups', [wavFile('g.wav', 171, 6)], (album) => ({
    ...album,
    deliverables: album.deliverables.slice(0, 1),
  }));
  await page.goto(url(`/albums/${id}/render`));
  await expect(page.getByText('Nothing rendered yet.')).toBeVisible();
  for (const title of ['Groups one', 'Groups two']) {
    const { version, album } = await call(CONTRACT.album, { params: { id } });
    await call(CONTRACT.saveAlbum, { params: { id }, body: { version, album: { ...album, title } } });
    await page.reload();
    await page.getByRole('button', { name: 'Render 1 deliverable' }).click();
    await expect(page.getByText('Rendering done: 1 deliverable verified.').last()).toBeVisible({
      timeout: 30_000,
    });
  }
  const groups = page.locator('.revision-group');
  await expect(groups).toHaveCount(2);
  await expect(groups.first()).toHaveAttribute('open', '');
  await expect(groups.last()).not.toHaveAttribute('open', '');
  await expect(groups.last()).toContainText('Revision 1');
  await page.getByRole('button', { name: /^Delete the files of older revisions/ }).click();
  await expect(groups.last()).toContainText('files deleted');
  await expect(groups.first()).not.toContainText('files deleted');
  await page.locator('.notices').getByRole('button', { name: 'Render again' }).click();
  await expect
    .poll(
      async () =>
        (await call(CONTRACT.deliveries, { params: { id }, query: {} })).every(
          ({ clearedAt, state }) => clearedAt === null && state === 'done',
        ),
      { timeout: 30_000 },
    )
    .toBe(true);
});
