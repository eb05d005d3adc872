import { expect, type Page } from '@playwright/test';
import { test } from './installation.js';
import { readFile } from 'node:fs/promises';
import { makeAlbum, saved, serverAlbum, serverTracks, typeInto, url, wavFile, wordCell } from './support.js';

async function openSleeve(page: Page, title = 'Sleeve'): Promise<string> {
  const files = [1, 2, 3, 4].map((seed) => wavFile(`${seed}.wav`, seed, 5));
  const id = await makeAlbum(title, files, (album) => ({ ...album, performer: 'Marram Lamps' }));
  await page.goto(url(`/albums/${id}/sleeve`));
  await expect(wordCell(page, 4, 'Title')).toHaveText('Song 4');
  return id;
}
/** Puts text on the clipboard's way into the cell in hand. */
const paste = (page: Page, text: string): Promise<void> =>
  page.evaluate((data) => {
    const clipboardData = new DataTransfer();
    clipboardData.setData('text/plain', data);
    document.activeElement?.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }),
    );
  }, text);
const copied = (page: Page): Promise<string> =>
  page.evaluate(() => {
    const clipboardData = new DataTransfer();
    document.activeElement?.dispatchEvent(
      new ClipboardEvent('copy', { clipboardData, bubbles: true, cancelable: true }),
    );
    return clipboardData.getData('text/plain');
  });

test('the grid is walked and typed into like a spreadsheet', async ({ page }) => {
  const id = await openSleeve(page);
  await wordCell(page, 1, 'Title').click();
  await page.keyboard.type('Lamp Lit');
  await page.keyboard.press('Enter');
  // Typing replaces; Tab goes to the right, arrows keep what was typed.
  await page.keyboard.type('Lantern Oil');
  await page.keyboard.press('Tab');
  await page.keyboard.type('Sea Pinks');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.type('never mind');
  await page.keyboard.press('Escape');
  await expect(page.getByLabel('Performer of track 3')).toHaveValue('');
  await expect(page.getByLabel('Performer of track 3')).toHaveAttribute('placeholder', 'Marram Lamps');
  // F2 opens the text to be changed.
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('F2');
  await page.keyboard.type('!');
  await page.keyboard.press('Enter');
  await saved(page);
  const [first, second, third] = await serverTracks(id);
  expect([first?.title, second?.title, second?.performer, third?.title, third?.performer]).toEqual([
    'Lamp Lit',
    'Lantern Oil',
    'Sea Pinks',
    'Song 3!',
    '',
  ]);
  await expect(page.getByRole('button', { name: 'Undo' })).toHaveAttribute(
    'title',
    /title of track 3 “Song 3” → “Song 3!”/,
  );
});

test('an empty field shows what it has from the album, and the album’s own row gives it', async ({
  page,
}) => {
  const id = await openSleeve(page);
  await wordCell(page, 0, 'Composer').click();
  await page.keyboard.type('Ada Marram');
  await page.keyboard.press('Enter');
  await expect(wordCell(page, 3, 'Composer')).toHaveText('Ada Marram');
  await expect(wordCell(page, 3, 'Composer').locator('i')).toHaveCount(1);
  await saved(page);
  expect((await serverAlbum(id)).composer).toBe('Ada Marram');
  expect((await serverTracks(id)).map(({ composer }) => composer)).toEqual(['', '', '', '']);
});

test('blocks are chosen, filled down, copied, pasted, emptied, and undone as one step', async ({ page }) => {
  const id = await openSleeve(page);
  await wordCell(page, 1, 'Composer').click();
  await page.keyboard.type('Ebb');
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Control+d');
  await saved(page);
  expect((await serverTracks(id)).map(({ composer }) => composer)).toEqual(['Ebb', 'Ebb', 'Ebb', '']);
  await page.keyboard.press('Shift+ArrowLeft');
  expect(await copied(page)).toBe('\tEbb\r\n\tEbb\r\n\tEbb\r\n');

  await wordCell(page, 2, 'Title').click();
  await paste(page, 'Two\tPink\r\n"Th""ree"\tSea\r\nFour\tFog\r\nFive\tlost\r\n');
  await saved(page);
  expect((await serverTracks(id)).map(({ title, performer }) => `${title}/${performer}`)).toEqual([
    'Song 1/',
    'Two/Pink',
    'Th"ree/Sea',
    'Four/Fog',
  ]);
  await page.keyboard.press('Delete');
  await expect(page.getByLabel('Title of track 2')).toHaveValue('');
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByLabel('Title of track 2')).toHaveValue('Song 2');
  await saved(page);
  // The same for all is one action.
  await wordCell(page, 1, 'Composer').click();
  await page.getByRole('button', { name: 'Copy to all tracks' }).click();
  await saved(page);
  expect((await serverTracks(id)).map(({ composer }) => composer)).toEqual(['Ebb', 'Ebb', 'Ebb', 'Ebb']);
});

test('flags are switched by Space, and what is no flag is refused', async ({ page }) => {
  const id = await openSleeve(page);
  await page.getByRole('tab', { name: 'More text, flags' }).click();
  const grid = page.getByRole('grid', { name: 'Text and codes' });
  const flag = grid.getByRole('row').nth(2).getByRole('gridcell').nth(6);
  await flag.click();
  await page.keyboard.press('Space');
  await expect(page.getByLabel('Copy permitted of track 1')).toHaveValue('yes');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.type('perhaps');
  await expect(page.getByLabel('Copy permitted of track 2')).toHaveAttribute('aria-invalid', 'true');
  await page.keyboard.press('Enter');
  await saved(page);
  expect((await serverTracks(id)).map(({ copyPermitted }) => copyPermitted)).toEqual([
    true,
    false,
    false,
    false,
  ]);
});

test('ISRCs run on from a first number, and codes of other albums are named', async ({ page }) => {
  const other = await openSleeve(page, 'The other one');
  await wordCell(page, 1, 'ISRC').click();
  await page.keyboard.type('ZZOIS2600042');
  await page.keyboard.press('Enter');
  await saved(page);
  expect((await serverTracks(other))[0]?.isrc).toBe('ZZOIS2600042');

  const id = await openSleeve(page);
  await page.getByRole('button', { name: 'Assign ISRCs …' }).click();
  const dialog = page.getByRole('dialog', { name: 'Assign ISRCs' });
  await typeInto(dialog.getByLabel('Prefix'), 'zz-ois');
  await typeInto(dialog.getByLabel('Year'), '26');
  // What is free after the highest of all albums is proposed; another may be typed.
  await expect
    .poll(async () => Number(await dialog.getByLabel('First number').inputValue()))
    .toBeGreaterThan(42);
  await typeInto(dialog.getByLabel('First number'), '41');
  await expect(dialog.getByRole('status')).toHaveText('ZZ-OIS-26-00041 to ZZ-OIS-26-00044, for 4 tracks.');
  await expect(dialog.getByText('ZZ-OIS-26-00042 is already used in “The other one”.')).toBeVisible();
  const [register] = await Promise.all([
    page.waitForEvent('download'),
    dialog.getByRole('button', { name: /Export ISRC register/ }).click(),
  ]);
  const lines = (await readFile(await register.path(), 'utf8')).split(/\r?\n/);
  expect(lines[0]).toBe('ISRC,Album,UPC/EAN,Track,Title,Performer');
  expect(lines.some((line) => line.startsWith('ZZ-OIS-26-00042,The other one,,1,'))).toBe(true);
  await typeInto(dialog.getByLabel('First number'), '51');
  await dialog.getByRole('button', { name: 'Assign 4 ISRCs' }).click();
  await saved(page);
  expect((await serverTracks(id)).map(({ isrc }) => isrc)).toEqual([
    'ZZOIS2600051',
    'ZZOIS2600052',
    'ZZOIS2600053',
    'ZZOIS2600054',
  ]);
});

test('the words leave as CSV and come back after a look at what would change', async ({ page }) => {
  const id = await openSleeve(page);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Export CSV' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('Sleeve.csv');
  const text = await readFile(await download.path(), 'utf8');
  const changed = text.replace('Song 2', 'Lantern Oil').replace('Song 3', 'The Long Groyne');
  await page.getByLabel('CSV file').setInputFiles({
    name: 'words.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(changed),
  });
  const dialog = page.getByRole('dialog', { name: 'words.csv' });
  await expect(dialog.getByRole('row')).toHaveText([
    'track 2TitleSong 2Lantern Oil',
    'track 3TitleSong 3The Long Groyne',
  ]);
  await dialog.getByRole('button', { name: 'Change 2 cells' }).click();
  await saved(page);
  expect((await serverTracks(id)).map(({ title }) => title)).toEqual([
    'Song 1',
    'Lantern Oil',
    'The Long Groyne',
    'Song 4',
  ]);
});

test('what the disc can’t show is marked, and written in plain letters when asked', async ({ page }) => {
  const id = await openSleeve(page);
  await wordCell(page, 1, 'Title').click();
  await page.keyboard.type('Keeper’s Łamp');
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowUp');
  const player = page.getByRole('figure', { name: 'On a disc player' });
  await expect(player).toContainText("Keeper's Lamp");
  await expect(page.getByText('CD-Text can’t show')).toBeVisible();
  await page.getByRole('link', { name: /Checks/ }).click();
  const finding = page.getByRole('listitem').filter({ hasText: 'CD-Text can’t show' });
  await expect(finding).toContainText('’ Ł in the title');
  await finding.getByRole('button', { name: 'Accept substitutes' }).click();
  await expect(finding).toHaveCount(0);
  await saved(page);
  expect((await serverAlbum(id)).cdTextPlain).toBe(true);
  expect((await serverTracks(id))[0]?.title).toBe('Keeper’s Łamp');
});

test('a finding is accepted for a reason that is kept, and mended by a button', async ({ page }) => {
  const id = await openSleeve(page);
  await wordCell(page, 2, 'Title').click();
  await page.keyboard.type('02_ebb.wav');
  await page.keyboard.press('Enter');
  await page.getByRole('link', { name: /Checks/ }).click();
  const codes = page.getByRole('listitem').filter({ hasText: 'The album has no UPC/EAN' });
  await codes.getByRole('button', { name: 'Accept …' }).click();
  await codes.getByLabel('Reason for accepting this').fill('A gift for friends.');
  await codes.getByLabel('Reason for accepting this').press('Enter');
  await expect(page.getByRole('list', { name: 'Accepted findings' })).toContainText('“A gift for friends.”');
  await page.getByRole('button', { name: 'Rename to “ebb”' }).click();
  await expect(page.getByText('looks like a file name')).toHaveCount(0);
  await saved(page);
  const album = await serverAlbum(id);
  expect(album.accepted).toEqual([{ code: 'upc-missing', song: null, reason: 'A gift for friends.' }]);
  expect(album.songs[1]?.title).toBe('ebb');
});

test('the tags of a track are shown as its file will carry them, own ones are added and taken out', async ({
  page,
}) => {
  const id = await openSleeve(page);
  await wordCell(page, 2, 'Lyricist').click();
  await page.keyboard.type('Ivo Sands');
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowUp');
  await page.getByRole('button', { name: 'Tags …' }).click();
  const dialog = page.getByRole('dialog', { name: 'Tags' });
  await expect(dialog.getByRole('row', { name: 'LYRICIST' })).toContainText('Ivo Sands');
  await expect(dialog.getByRole('row', { name: 'TRACKNUMBER' })).toContainText('2');
  await typeInto(dialog.getByLabel('Custom tag name'), 'mood');
  await typeInto(dialog.getByLabel('Custom tag value'), 'calm');
  await dialog.getByRole('button', { name: 'Add' }).click();
  await typeInto(dialog.getByLabel('Custom tag name'), 'PLACE');
  await typeInto(dialog.getByLabel('Custom tag value'), 'lighthouse');
  await dialog.getByLabel('Custom tag applies to').selectOption('all tracks');
  await dialog.getByRole('button', { name: 'Add' }).click();
  await expect(dialog.getByRole('row', { name: 'PLACE' })).toContainText('custom, all tracks');
  await saved(page);
  const album = await serverAlbum(id);
  expect([album.tags, album.songs[1]?.tags]).toEqual([{ PLACE: 'lighthouse' }, { MOOD: 'calm' }]);
  // The same tags as each kind of file carries them.
  await dialog.getByRole('tab', { name: 'MP3, AIFF, WAV' }).click();
  await expect(dialog.getByRole('row', { name: 'TRCK' })).toContainText(/2\/\d/);
  await expect(dialog.getByRole('row', { name: 'TXXX:MOOD' })).toContainText('calm');
  await dialog.getByRole('tab', { name: 'M4A' }).click();
  await expect(dialog.getByRole('row', { name: '----:LYRICIST' })).toContainText('Ivo Sands');
  await dialog.getByRole('tab', { name: 'WAV without ID3' }).click();
  await expect(dialog.getByRole('row', { name: 'ITRK' })).toContainText('2');
  await expect(dialog.getByRole('row', { name: /MOOD/ })).toHaveCount(0);
  await dialog.getByRole('tab', { name: 'By field' }).click();
  await dialog.getByRole('button', { name: 'Remove MOOD' }).click();
  await saved(page);
  expect((await serverTracks(id))[1]?.tags).toEqual({});
});
