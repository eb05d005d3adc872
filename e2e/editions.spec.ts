import { deliverableSchema, newEdition } from '@oiseau/album/model';
import { CONTRACT } from '@oiseau/api';
import { expect } from '@playwright/test';
import { HEARD, test } from './installation.js';
import { call, inSeconds, makeAlbum, proved, serverAlbum, tableTitles, url, wavFile } from './support.js';

test('an edition is added, has its own order and spacing, shares titles, and is renamed and removed', async ({
  page,
}) => {
  const id = await makeAlbum('Two ways', [
    wavFile('a.wav', 41, 5),
    wavFile('b.wav', 42, 5),
    wavFile('c.wav', 43, 5),
  ]);
  await page.goto(url(`/albums/${id}/sequence`));
  await page.getByRole('button', { name: 'Editions' }).click();
  await page.getByRole('button', { name: 'Add edition …' }).click();
  const dialog = page.getByRole('dialog', { name: 'Add edition' });
  await dialog.getByLabel('Name of the album as it is').fill('CD');
  await dialog.getByLabel('Name of the new edition').fill('cd');
  await expect(dialog.getByText('There is already an edition “cd”.')).toBeVisible();
  await dialog.getByLabel('Name of the new edition').fill('LP');
  await dialog.getByRole('button', { name: 'Add edition' }).click();
  await expect(page.locator('.edition-name')).toHaveText('LP');

  // Order and gap stay on the LP, the title is everywhere.
  await page.getByLabel('Gap before track 2').fill('5');
  await page.getByLabel('Gap before track 2').press('Enter');
  await page.getByLabel('Title of track 1').fill('Ebb');
  await page.getByLabel('Title of track 1').press('Enter');
  await page.getByRole('row', { name: 'track 1: Ebb' }).focus();
  await page.keyboard.press('Alt+ArrowDown');
  await expect.poll(() => tableTitles(page)).toEqual(['Song 2', 'Ebb', 'Song 3']);
  await page.getByRole('button', { name: 'Edition: LP' }).click();
  await page.getByRole('button', { name: 'CD', exact: true }).click();
  await expect.poll(() => tableTitles(page)).toEqual(['Ebb', 'Song 2', 'Song 3']);
  await expect(page.getByLabel('Gap before track 2')).toHaveValue('2.00 s');
  await expect
    .poll(async () => (await serverAlbum(id)).editions.map(({ order }) => order !== null))
    .toEqual([false, true]);

  // Undo takes back the last step of either edition.
  await page.getByRole('button', { name: /^Undo/ }).click();
  await page.getByRole('button', { name: 'Edition: CD' }).click();
  await page.getByRole('button', { name: 'LP', exact: true }).click();
  await expect.poll(() => tableTitles(page)).toEqual(['Ebb', 'Song 2', 'Song 3']);

  await page.getByRole('button', { name: 'Edition: LP' }).click();
  await page.getByRole('button', { name: 'Rename edition …' }).click();
  const rename = page.getByRole('dialog', { name: 'Rename edition' });
  await rename.getByLabel('Name').fill('Vinyl');
  await rename.getByRole('button', { name: 'Rename' }).click();
  await expect(page.locator('.edition-name')).toHaveText('Vinyl');
  await page.getByRole('button', { name: 'Edition: Vinyl' }).click();
  await page.getByRole('button', { name: 'Remove edition' }).click();
  await expect
    .poll(async () => (await call(CONTRACT.album, { params: { id } })).album.editions.length)
    .toBe(1);
});

const files = (name: string, edition?: string) =>
  deliverableSchema.parse({
    ...{ name, kind: 'tracks', format: 'wav', bits: 16 },
    ...(edition === undefined ? {} : { edition }),
  });

/** Three tracks on a disc, on a record in another order, and in an order under debate. */
const threeEditions = (): Promise<string> =>
  makeAlbum(
    'Three ways',
    [wavFile('a.wav', 44, 5), wavFile('b.wav', 45, 5), wavFile('c.wav', 46, 5)],
    (album) => {
      const [a = '', b = '', c = ''] = album.songs.map(({ id }) => id);
      return {
        ...album,
        editions: [
          newEdition('CD'),
          { ...newEdition('LP'), order: [b, a], upc: '2026110900021' },
          { ...newEdition('Late'), draft: true, order: [c, a, b] },
        ],
        deliverables: [files('disc'), files('record', 'LP'), files('idea', 'Late')],
      };
    },
  );

test('editions are compared: a new neighbour is kept, a value is the album’s again, a draft is adopted and back by undo', async ({
  page,
}) => {
  const id = await threeEditions();
  const editions = async () => (await serverAlbum(id)).editions;
  await page.goto(url(`/albums/${id}/sequence`));
  await page.getByRole('button', { name: 'Edition: CD' }).click();
  await page.getByRole('button', { name: 'LP', exact: true }).click();
  await expect.poll(() => tableTitles(page)).toEqual(['Song 2', 'Song 1']);
  const mark = page.getByText('Not yet heard: new neighbour in this edition');
  await expect(mark).toHaveCount(1);
  await page.getByRole('row', { name: 'track 2: Song 1' }).focus();
  await page.getByRole('button', { name: 'Not yet heard: keep the gap' }).click();
  await expect(mark).toHaveCount(0);

  await page.getByRole('button', { name: 'Edition: LP' }).click();
  await page.getByRole('button', { name: 'Compare editions' }).click();
  const late = page.getByRole('region', { name: 'Late' });
  await expect(late.getByText('1 transition not yet heard')).toBeVisible();
  await expect(page.getByRole('table', { name: 'CD' }).getByText('Song 1 into Song 2')).toBeVisible();
  await expect(page.getByRole('table', { name: 'LP' }).getByText('Song 2 into Song 1')).toBeVisible();

  // A code of its own is typed in the table, and is the album's again.
  await page.getByLabel('UPC/EAN of edition “LP”').fill('2026110900038');
  await page.getByLabel('UPC/EAN of edition “LP”').press('Enter');
  await expect.poll(async () => (await editions())[1]?.upc).toBe('2026110900038');
  await page
    .getByRole('row', { name: /UPC\/EAN/ })
    .getByRole('button', { name: 'Use the album’s value' })
    .click();
  await expect.poll(async () => (await editions())[1]?.upc).toBe('');

  // A title of its own: edited there, it stays there.
  await page.getByLabel('Track', { exact: true }).selectOption('Song 2');
  await page.getByRole('button', { name: 'Only in “LP”' }).click();
  await page.getByLabel('Title of edition “LP”').fill('Song 2, long');
  await page.getByLabel('Title of edition “LP”').press('Enter');
  await expect
    .poll(async () => Object.values((await editions())[1]?.tracks ?? {}).map(({ title }) => title))
    .toContain('Song 2, long');
  expect((await serverAlbum(id)).songs.map(({ title }) => title)).toEqual(['Song 1', 'Song 2', 'Song 3']);

  // The same beside the field in Sleeve, where the edition is shown.
  await page.getByRole('link', { name: /^Sleeve/ }).click();
  const own = page.getByRole('button', { name: 'Album title only in edition “LP”' });
  await expect(own).toHaveAttribute('aria-pressed', 'false');
  await own.click();
  await page.getByLabel('Album title', { exact: true }).fill('Three ways, on vinyl');
  await page.getByLabel('Album title', { exact: true }).press('Enter');
  await expect
    .poll(async () => [(await serverAlbum(id)).title, (await editions())[1]?.title])
    .toEqual(['Three ways', 'Three ways, on vinyl']);
  await expect(own).toHaveAttribute('aria-pressed', 'true');
  await own.click();
  await expect(page.getByLabel('Album title', { exact: true })).toHaveValue('Three ways');
  await page.goBack();

  await late.getByRole('button', { name: 'Adopt as' }).click();
  await late.getByRole('button', { name: 'CD', exact: true }).click();
  await expect.poll(async () => (await editions()).map(({ name }) => name)).toEqual(['CD', 'LP']);
  expect((await editions())[0]?.order).toHaveLength(3);
  await page.getByRole('button', { name: 'Undo', exact: true }).last().click();
  await expect.poll(async () => (await editions()).map(({ name }) => name)).toEqual(['CD', 'LP', 'Late']);
  await page.getByRole('region', { name: 'Late' }).getByRole('button', { name: 'Discard' }).click();
  await expect.poll(async () => (await editions()).map(({ name }) => name)).toEqual(['CD', 'LP']);
});

test('the deliverables of all editions are rendered in one sitting, those of drafts never', async ({
  page,
}) => {
  const id = await threeEditions();
  await page.goto(url(`/albums/${id}/render`));
  await expect(page.getByRole('region', { name: 'CD' }).getByLabel('Render disc')).toBeChecked();
  await expect(page.getByLabel('Render record')).toBeChecked();
  await expect(page.getByLabel('Render idea')).toBeDisabled();
  // Opening one of another edition shows that edition.
  await page.getByRole('button', { name: /^record/ }).click();
  await expect(page.locator('.edition-name')).toHaveText('LP');
  await expect(page.getByText('02 Song 1.wav')).toBeVisible();
  await page.getByRole('button', { name: 'Render 2 deliverables' }).click();
  await proved(id, 1);
  const deliveries = await call(CONTRACT.deliveries, { params: { id }, query: {} });
  expect(deliveries.map(({ deliverable }) => deliverable.name).sort()).toEqual(['disc', 'record']);
  await expect(
    call(CONTRACT.orderRenders, { params: { id }, body: { deliverables: ['idea'], by: '' } }),
  ).rejects.toThrow(/draft/);
});

test('suggested gaps are accepted and skipped by key, and nothing changes before that', async ({ page }) => {
  const id = await threeEditions();
  const gaps = async () => (await serverAlbum(id)).songs.map(({ region }) => inSeconds(region.gapBefore));
  await page.goto(url(`/albums/${id}/sequence`));
  await page.getByRole('button', { name: 'Suggest spacing' }).click();
  // Noise up to the cut on both sides
  await expect(page.getByText('The tracks run into each other.')).toHaveCount(2);
  await expect(page.getByLabel('Suggested gap before “Song 2”')).toHaveValue('0 s');
  expect(await gaps()).toEqual([2, 2, 2]);
  await page.getByRole('table', { name: 'Suggested spacing' }).click({ position: { x: 5, y: 5 } });
  await page.keyboard.press('x');
  await expect(page.getByText('The tracks run into each other.')).toHaveCount(1);
  await page.getByLabel('Suggested gap before “Song 3”').fill('1.5');
  await page.getByLabel('Suggested gap before “Song 3”').press('Enter');
  expect(await gaps()).toEqual([2, 2, 2]);
  await page.getByRole('table', { name: 'Suggested spacing' }).click({ position: { x: 5, y: 5 } });
  await page.keyboard.press('Enter');
  await expect(page.getByText('Nothing to suggest: every gap is settled.')).toBeVisible();
  await expect
    .poll(async () => {
      const [cd] = (await serverAlbum(id)).editions;
      return Object.entries(cd?.tracks ?? {}).map(([song, own]) => [song, inSeconds(own.gapBefore)]);
    })
    .toEqual([['t3', 1.5]]);
});

test(
  'transitions that differ are heard one after another, O switches the order, and what was heard is no longer new',
  { tag: HEARD },
  async ({ page }) => {
    const id = await threeEditions();
    await page.goto(url(`/albums/${id}/editions`));
    const current = (name: string) => page.getByRole('table', { name }).locator('[aria-current]');
    await page.getByRole('button', { name: 'Play all that differ' }).click();
    await expect(current('CD')).toContainText('Song 1 into Song 2');
    await page.keyboard.press('o');
    await expect(current('LP')).toContainText('Song 2 into Song 1');
    await expect(page.locator('.edition-name')).toHaveText('LP');
    // Played to its end, its gap is the edition's own.
    await expect
      .poll(async () => {
        const [, lp] = (await serverAlbum(id)).editions;
        return Object.entries(lp?.tracks ?? {}).map(([song, own]) => [song, inSeconds(own.gapBefore)]);
      })
      .toEqual([['t1', 2]]);
    await expect(current('LP')).toHaveCount(0);
  },
);
