import { deliverableSchema, type Album } from '@oiseau/album/model';
import { NO_TREATMENT, type Treatment } from '@oiseau/audio/stages';
import { secondsToTicks } from '@oiseau/audio/time';
import { withSong } from '@oiseau/album/testing';
import { expect, type Page } from '@playwright/test';
import { HEARD, test } from './installation.js';
import { drag, makeAlbum, saved, serverAlbum, typeInto, url, wavFile } from './support.js';

/** Three songs of noise; the second is 12 dB louder than the first. */
async function openSound(page: Page, change: (album: Album) => Album = (album) => album): Promise<string> {
  const id = await makeAlbum(
    'Sound',
    [wavFile('a.wav', 1, 12), wavFile('b.wav', 2, 12), wavFile('c.wav', 3, 12)],
    (album) => change(withSong(album, 0, { gainDb: -12 })),
  );
  await page.goto(url(`/albums/${id}/sound`));
  await expect(page.getByRole('heading', { name: 'Song 1' })).toBeVisible();
  return id;
}
const soundOf = async (id: string, place: number): Promise<Treatment | undefined> =>
  (await serverAlbum(id)).songs[place]?.region.sound;
const line = (page: Page, name: string | RegExp) =>
  page.getByRole('navigation', { name: 'Tracks' }).getByRole('button', { name });
const figure = (page: Page, name: string) => page.getByRole('textbox', { name, exact: true });

test('a band is added, dragged, typed, widened and taken out, and each is undone', async ({ page }) => {
  const id = await openSound(page);
  await expect(line(page, /Song 1/)).toContainText('gain −12.0 dB only');
  await expect(line(page, /Song 2/)).toContainText('bit-perfect');
  await page.keyboard.press('b');
  const handle = page.getByRole('button', { name: /^Band 1/ });
  const box = await page.locator('.spectrum-box').boundingBox();
  const at = await handle.boundingBox();
  if (!box || !at) throw new Error('nothing is drawn');
  // An octave to the right, and a quarter of the picture (6 dB up and down) up.
  const middle: [number, number] = [at.x + at.width / 2, at.y + at.height / 2];
  await drag(page, middle, [middle[0] + box.width / Math.log2(1000), middle[1] - (box.height - 24) / 4]);
  await saved(page);
  const [band] = (await soundOf(id, 0))?.equaliser ?? [];
  expect(band?.hz).toBeGreaterThan(1900);
  expect(band?.hz).toBeLessThan(2100);
  expect(band && 'db' in band ? band.db : 0).toBeCloseTo(3, 0);
  await typeInto(figure(page, 'Frequency'), '250');
  await typeInto(figure(page, 'Gain'), '-2.5');
  await handle.focus();
  await page.keyboard.press('+');
  await page.keyboard.press('Shift+ArrowRight');
  await saved(page);
  // Ten steps of a twenty-fourth of an octave.
  expect((await soundOf(id, 0))?.equaliser).toEqual([{ kind: 'bell', hz: 334, db: -2.5, q: 1.08 }]);
  await page.getByLabel('Kind of band 1').selectOption('Low shelf');
  await handle.focus();
  await page.keyboard.press('Delete');
  await expect(handle).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(handle).toHaveAccessibleName('Band 1: Low shelf 334 Hz, −2.5 dB, Q 1.08');
  await expect(line(page, /Song 1/)).toContainText('low shelf 334 Hz −2.5 dB');
});

test('what is measured of a song is that of the treated sound, and what a limiter takes away is told', async ({
  page,
}) => {
  await openSound(page);
  await line(page, /Song 2/).click();
  const before = await line(page, /Song 2/).textContent();
  await page.getByRole('button', { name: 'Add the limiter' }).click();
  await typeInto(figure(page, 'Drive'), '9');
  await expect(page.getByText(/^gain reduction up to \d+\.\d dB, \d+ % of the time$/)).toBeVisible({
    timeout: 30_000,
  });
  const after = await line(page, /Song 2/).textContent();
  const lufs = (text: string | null): number => Number(/−?\d+\.\d/.exec(text ?? '')?.[0].replace('−', '-'));
  expect(lufs(after)).toBeGreaterThan(lufs(before) + 3);
  expect(after).toMatch(/−1\.\d dBTP/);
  // A limiter that works so hard is asked about.
  await page.getByRole('link', { name: /Checks/ }).click();
  await expect(
    page.getByText(/The limiter reduces gain by up to|The limiter is active/).first(),
  ).toBeVisible();
  // The track table tells the same loudness.
  await page.getByRole('link', { name: /Sequence/ }).click();
  await expect(page.getByRole('row', { name: /Song 2/ })).toContainText(
    String(lufs(after)).replace('-', '−'),
  );
});

test(
  'a song is heard Original and Treated, equally loud, by one key and without a break',
  { tag: HEARD },
  async ({ page }) => {
    const ride = { ...NO_TREATMENT, ride: 6 };
    await openSound(page, (album) => withSong(album, 1, { sound: ride }));
    await line(page, /Song 2/).click();
    await expect(page.getByText(/treated 6\.0 dB lower: loudness-matched over the whole track/)).toBeVisible({
      timeout: 30_000,
    });
    await line(page, /Song 2/).press('Enter');
    const loudness = page
      .locator('.transport')
      .getByText(/−\d+\.\d/)
      .nth(2);
    await expect(loudness).toBeVisible();
    for (let i = 0; i < 6; i++) {
      await page.keyboard.press('c');
      await page.waitForTimeout(250);
    }
    await page.keyboard.press('c');
    await expect(page.getByRole('button', { name: 'Original' })).toHaveAttribute('aria-pressed', 'true');
    await expect(page.getByText('The sound broke off')).toHaveCount(0);
    await page.keyboard.press('Space');
  },
);

test('the loudest moments of all songs are walked through, and a moment is moved by hand', async ({
  page,
}) => {
  const id = await openSound(page);
  await page.keyboard.press('l');
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  // Six seconds each: after the first the second song sounds.
  await expect(page.locator('.transport-track')).toContainText('Song 2', { timeout: 15_000 });
  await page.keyboard.press('l');
  await line(page, /Song 1/).click();
  await page.getByRole('button', { name: 'Mark as loudest passage' }).click();
  await saved(page);
  expect((await serverAlbum(id)).songs[0]?.marks.loudest).not.toBeNull();
  await page.getByRole('button', { name: 'Reset loudest passage' }).click();
  await saved(page);
  expect((await serverAlbum(id)).songs[0]?.marks.loudest).toBeNull();
});

test('listening blind tells which was which after a choice, and not before', async ({ page }) => {
  await openSound(page, (album) => withSong(album, 0, { sound: { ...NO_TREATMENT, ride: 3 } }));
  await page.getByRole('button', { name: 'Blind test' }).click();
  const group = page.getByRole('group', { name: 'Blind test' });
  await expect(group).not.toContainText('Original');
  await page.keyboard.press('y');
  await expect(group.getByRole('button', { name: 'Y', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await group.getByRole('button', { name: 'X is better' }).click();
  await expect(group).toContainText(/You chose X: the (Original|Treated)/);
  await group.getByRole('button', { name: 'Done' }).click();
  await expect(page.getByRole('group', { name: 'Original or treated (C)' })).toBeVisible();
});

test('a ride gets its points on the song, and a treatment is copied, kept and taken off', async ({
  page,
}) => {
  const id = await openSound(page);
  const box = await page.locator('.overview-box').boundingBox();
  if (!box) throw new Error('nothing is drawn');
  await page.mouse.dblclick(box.x + box.width / 4, box.y + box.height / 4);
  await page.mouse.dblclick(box.x + (box.width * 3) / 4, box.y + (box.height * 3) / 4);
  await page.getByRole('textbox', { name: 'level' }).fill('-3');
  await page.getByRole('textbox', { name: 'level' }).press('Enter');
  await saved(page);
  const ride = (await soundOf(id, 0))?.ride;
  expect(Array.isArray(ride) ? ride.map(({ db }) => Math.round(db)) : ride).toEqual([6, -3]);
  const [first] = Array.isArray(ride) ? (ride as readonly { at: number }[]) : [];
  expect(first?.at).toBeCloseTo(3, 0);
  await page.getByRole('button', { name: /^Point at 9/ }).focus();
  await page.keyboard.press('Delete');
  await page.getByRole('button', { name: 'Treatment', exact: true }).click();
  await page.getByRole('button', { name: /Save as preset/ }).click();
  await page.getByLabel('Preset name').fill('Lift it');
  await page.getByRole('button', { name: 'Save' }).click();
  await page.getByRole('button', { name: 'Treatment', exact: true }).click();
  await page.getByRole('button', { name: /Copy to other tracks/ }).click();
  await page.getByRole('dialog').getByLabel('Song 3').check();
  await page.getByRole('button', { name: 'Copy to 1 track' }).click();
  await saved(page);
  expect(await soundOf(id, 2)).toEqual(await soundOf(id, 0));
  await line(page, /Song 2/).click();
  await page.getByRole('button', { name: 'Treatment', exact: true }).click();
  await page.getByRole('button', { name: 'Lift it', exact: true }).click();
  await saved(page);
  expect(await soundOf(id, 1)).toEqual(await soundOf(id, 0));
  await page.getByRole('button', { name: 'Treatment', exact: true }).click();
  await page.getByRole('button', { name: 'Remove all stages' }).click();
  await saved(page);
  expect(await soundOf(id, 1)).toEqual(NO_TREATMENT);
});

test('the album is treated as a whole, and its limiter gets the ceiling that encoders need', async ({
  page,
}) => {
  const id = await openSound(page, (album) => ({
    ...album,
    deliverables: [deliverableSchema.parse({ name: 'shop', kind: 'tracks', format: 'opus', bitrate: 48 })],
  }));
  await line(page, /The album/).click();
  await page.getByRole('button', { name: 'Add the limiter' }).click();
  await typeInto(figure(page, 'Drive'), '12');
  await typeInto(figure(page, 'Ceiling'), '-0.1');
  await page.getByRole('button', { name: /Ceiling for lossy files/ }).click();
  const table = page.getByRole('table', { name: 'Headroom for lossy files' });
  await expect(table).toBeVisible({ timeout: 60_000 });
  const offer = page.getByRole('button', { name: /^Set ceiling to −\d/ });
  const ceiling = Number((await offer.textContent())?.replace(/[^−\d.]/g, '').replace('−', '-'));
  await offer.click();
  await saved(page);
  expect((await serverAlbum(id)).sound.limiter?.ceiling).toBe(ceiling);
  expect(ceiling).toBeLessThan(-0.1);
});

test(
  'a stage is left out for a moment without changing anything, and a drag is heard without a break',
  { tag: HEARD },
  async ({ page }) => {
    const limiter = { drive: 6, ceiling: -3, release: 80 };
    const id = await openSound(page, (album) =>
      withSong(album, 0, {
        sound: { ...NO_TREATMENT, limiter },
        fadeIn: { length: secondsToTicks(0.1), shape: 'linear' },
      }),
    );
    await line(page, /Song 1/).press('Enter');
    await page.getByRole('button', { name: 'Bypass the limiter' }).click();
    await expect(page.getByText('left out', { exact: true })).toBeVisible();
    expect((await soundOf(id, 0))?.limiter).toEqual(limiter);
    await page.getByRole('button', { name: 'Stop bypassing the limiter' }).click();
    await page.keyboard.press('b');
    const at = await page.getByRole('button', { name: /^Band 1/ }).boundingBox();
    if (!at) throw new Error('no band');
    await page.mouse.move(at.x + 12, at.y + 12);
    await page.mouse.down();
    for (let i = 1; i <= 30; i++) {
      await page.mouse.move(at.x + 12 + 3 * i, at.y + 12 - i);
      await page.waitForTimeout(60);
    }
    await page.keyboard.press('Escape');
    await page.mouse.up();
    expect((await soundOf(id, 0))?.equaliser).toEqual([{ kind: 'bell', hz: 1000, db: 0, q: 1 }]);
    await expect(page.getByText('The sound broke off')).toHaveCount(0);
    await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  },
);
