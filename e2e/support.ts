import { encodeWords, newTrack, secondsToTicks, wavHeader, type Album, type WordFormat } from '@oiseau/core';
import { expect, type Page } from '@playwright/test';

export const url = (path: string): string => `${process.env.OISEAU_URL ?? ''}${path}`;

export interface TestFile {
  readonly name: string;
  readonly mimeType: string;
  readonly buffer: Buffer;
}

/** Sample n of a test master: 16-bit words that look like noise, another row for each seed. */
export const testWord = (seed: number, n: number): number =>
  (((n * 7919 + seed * 104_729) % 20_000) - 10_000) / 32_768;

/** A WAV file of such words; the right channel is the left one turned over. */
export function wavFile(
  name: string,
  seed: number,
  seconds: number,
  rate = 44_100,
  format: WordFormat = 'int16',
): TestFile {
  const left = Float64Array.from({ length: Math.round(seconds * rate) }, (_, n) => testWord(seed, n));
  const words = encodeWords({ left, right: left.map((value) => -value) }, format);
  return {
    name,
    mimeType: 'audio/wav',
    buffer: Buffer.concat([wavHeader(format, rate, left.length), words]),
  };
}

export async function api<T>(page: Page, method: string, path: string, data?: unknown): Promise<T> {
  const response = await page.request.fetch(url(`/api${path}`), {
    method,
    ...(data === undefined ? {} : { data }),
  });
  expect(response.ok(), `${method} ${path}: ${await response.text()}`).toBe(true);
  return (response.status() === 204 ? undefined : await response.json()) as T;
}

/** An album made through the API: a track for each file, two seconds apart. */
export async function makeAlbum(
  page: Page,
  title: string,
  files: readonly TestFile[],
  change: (album: Album) => Album = (album) => album,
): Promise<string> {
  const { id } = await api<{ id: string }>(page, 'POST', '/albums', { title });
  const tracks: Album['tracks'] = [];
  for (const [i, file] of files.entries()) {
    const response = await page.request.post(
      url(`/api/albums/${id}/masters?name=${encodeURIComponent(file.name)}`),
      {
        data: file.buffer,
        headers: { 'Content-Type': 'application/octet-stream' },
      },
    );
    const { sha256 } = (await response.json()) as { sha256: string };
    tracks.push({ ...newTrack(`t${i + 1}`, sha256, `Song ${i + 1}`), gapBefore: secondsToTicks(2) });
  }
  const { version, album } = await api<{ version: number; album: Album }>(page, 'GET', `/albums/${id}`);
  await api(page, 'PUT', `/albums/${id}`, { version, album: change({ ...album, tracks }) });
  return id;
}

export const serverAlbum = async (page: Page, id: string): Promise<Album> =>
  (await api<{ album: Album }>(page, 'GET', `/albums/${id}`)).album;

/** Titles in the ledger, from the top. */
export const ledgerTitles = (page: Page): Promise<string[]> =>
  page
    .getByRole('textbox', { name: /^Title of track/ })
    .evaluateAll((fields) => fields.map((field) => (field as HTMLInputElement).value));

export const saved = (page: Page): Promise<void> => expect(page.locator('.saved-state')).toHaveText('saved');
