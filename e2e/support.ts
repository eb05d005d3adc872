import { installation } from './installation.js';
import { ask, CONTRACT, fetchWithKey, type AnswerOf, type Call, type Endpoint } from '@oiseau/api';
import { encodeWords, wavHeader, type WordFormat } from '@oiseau/audio/pcm';
import { newSong, type Album } from '@oiseau/album/model';
import { secondsToTicks } from '@oiseau/audio/time';
import { flat } from '@oiseau/album/testing';
import { expect, type Locator, type Page } from '@playwright/test';

export const url = (path: string): string => `${installation().url}${path}`;

export interface TestFile {
  readonly name: string;
  readonly mimeType: string;
  readonly buffer: Buffer;
}

/** Sample n of a test master: 16-bit words that look like noise, another row for each seed. */
export const testWord = (seed: number, n: number): number =>
  (((n * 7919 + seed * 104_729) % 20_000) - 10_000) / 32_768;

/** A WAV file of such words. */
export function wavFile(
  name: string,
  seed: number,
  seconds: number,
  rate = 44_100,
  format: WordFormat = 'int16',
): TestFile {
  const left = Float64Array.from({ length: Math.round(seconds * rate) }, (_, n) => testWord(seed, n));
  return soundFile(name, left, rate, format);
}

/** A WAV file of a left channel, the right one being it turned over. */
export function soundFile(
  name: string,
  left: Float64Array,
  rate = 44_100,
  format: WordFormat = 'int16',
): TestFile {
  const words = encodeWords({ left, right: left.map((value) => -value) }, format);
  return {
    name,
    mimeType: 'audio/wav',
    buffer: Buffer.concat([wavHeader(format, rate, left.length), words]),
  };
}

/** One call of the API of the application under test. */
export const call = <E extends Endpoint>(
  endpoint: E,
  given: Call<E>,
  options: { file?: Uint8Array<ArrayBuffer> } = {},
): Promise<AnswerOf<E>> => ask(fetchWithKey(url(''), installation().key), endpoint, given, options);

/** An album made through the API: a track for each file, two seconds apart. */
export async function makeAlbum(
  title: string,
  files: readonly TestFile[],
  change: (album: Album) => Album = (album) => album,
): Promise<string> {
  const { id } = await call(CONTRACT.createAlbum, { body: { title } });
  const songs: Album['songs'] = [];
  for (const [i, file] of files.entries()) {
    const { sha256 } = await call(
      CONTRACT.sendMaster,
      { params: { id }, query: { name: file.name } },
      { file: new Uint8Array(file.buffer) },
    );
    songs.push(newSong(`t${i + 1}`, sha256, `Song ${i + 1}`, secondsToTicks(2)));
  }
  const { version, album } = await call(CONTRACT.album, { params: { id } });
  await call(CONTRACT.saveAlbum, { params: { id }, body: { version, album: change({ ...album, songs }) } });
  return id;
}

export const serverAlbum = async (id: string): Promise<Album> =>
  (await call(CONTRACT.album, { params: { id } })).album;

/** The tracks that the server has of an album. */
export async function serverTracks(id: string): Promise<ReturnType<typeof flat>[]> {
  const album = await serverAlbum(id);
  return album.songs.map((_, place) => flat(album, place)).filter(({ numbered }) => numbered);
}

/** Titles in the track table, from the top. */
export const tableTitles = (page: Page): Promise<string[]> =>
  page
    .getByRole('textbox', { name: /^Title of track/ })
    .evaluateAll((fields) => fields.map((field) => (field as HTMLInputElement).value));

export const saved = (page: Page): Promise<void> => expect(page.locator('.saved-state')).toHaveText('saved');

/** Seconds, to a millisecond. */
export const inSeconds = (ticks: number | null | undefined): number =>
  Math.round(((ticks ?? 0) / 705_600_000) * 1000) / 1000;

/** Presses at a place, moves to another and lets go; the edit that it makes is on the server then. */
export async function drag(page: Page, from: [number, number], to: [number, number]): Promise<void> {
  await page.mouse.move(...from);
  await page.mouse.down();
  await page.mouse.move(...to, { steps: 6 });
  await page.mouse.up();
  // The edit is made when the button is let go; the word of the one before may stand there until it is drawn.
  await page.waitForTimeout(100);
  await saved(page);
}

/** A field of the Bench by its name. */
export const benchField = (page: Page, name: string) =>
  page.getByRole('region', { name: 'Bench' }).getByLabel(name, { exact: true });

export async function typeInto(field: Locator, text: string): Promise<void> {
  await field.fill(text);
  await field.press('Enter');
}

/** The transition into track 2 on the Bench: 15 s in sight, the end of song 1, 12 s into the disc, in the middle. */
export async function openSecondTransition(
  page: Page,
  id: string,
): Promise<(seconds: number) => { x: number; top: number; bottom: number; y: number }> {
  await page.goto(url(`/albums/${id}/sequence`));
  await expect(page.getByRole('img', { name: 'Transition into track 1' })).toBeVisible();
  await page.keyboard.press('n');
  const picture = page.getByRole('img', { name: 'Transition into track 2' });
  await expect(picture).toBeVisible();
  const box = (await picture.boundingBox()) ?? { x: 0, y: 0, width: 1, height: 1 };
  return (seconds) => ({
    x: box.x + ((seconds - 12 + 7.5) / 15) * box.width,
    top: box.y + 60,
    bottom: box.y + box.height - 60,
    y: box.y,
  });
}

const WORD_COLUMNS = [
  'Title',
  'Performer',
  'Songwriter',
  'Composer',
  'Arranger',
  'Lyricist',
  'ISRC',
] as const;

/** A cell of the first columns of the Sleeve's grid; row 0 is the album's. */
export const wordCell = (page: Page, row: number, column: (typeof WORD_COLUMNS)[number]): Locator =>
  page
    .getByRole('grid', { name: 'Text and codes' })
    .getByRole('row')
    .nth(row + 1)
    .getByRole('gridcell')
    .nth(WORD_COLUMNS.indexOf(column));

/** Waits for a revision of an album to be proved. */
export const proved = (id: string, revision: number): Promise<void> =>
  expect
    .poll(
      async () => {
        const [newest] = await call(CONTRACT.deliveries, { params: { id }, query: {} });
        return newest?.revision === revision && newest.proof?.proved;
      },
      { timeout: 60_000 },
    )
    .toBe(true);
