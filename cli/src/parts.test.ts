import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { wavHeader } from '@oiseau/audio/pcm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { runOiseau } from './testing.js';

let folder: string;
let album: string;
/** Four songs of 60, 50, 40 and 30 s, two seconds apart, at 8 kHz so that the files are small. */
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-cli-parts-'));
  const tracks = [];
  for (const seconds of [60, 50, 40, 30]) {
    const master = `${seconds}.wav`;
    const length = seconds * 44_100;
    await writeFile(
      join(folder, master),
      Buffer.concat([wavHeader('int16', 44_100, length), Buffer.alloc(4 * length)]),
    );
    tracks.push({ master, title: `Song of ${seconds}` });
  }
  album = join(folder, 'album.json');
  await writeFile(album, JSON.stringify({ format: 'oiseau-album', version: 1, title: 'Spread', tracks }));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const oiseau = (...args: string[]) => runOiseau(args);

describe('oiseau parts', () => {
  it('prints the parts array of as few parts as the limit allows, the longest as short as it can be', async () => {
    // 186 s in all: two sides of 2:00 hold them, best with 112 and 72 s.
    const found = await oiseau('parts', album, '--medium', 'vinyl-7-45', '--limit', '2:00');
    expect(found.status).toBe(0);
    expect(JSON.parse(found.out)).toMatchObject([
      { medium: 'vinyl-7-45', first: 1 },
      { medium: 'vinyl-7-45', first: 3 },
    ]);
    const three = await oiseau('parts', album, '--medium', 'cd', '--count', '3');
    expect((JSON.parse(three.out) as { first: number }[]).map(({ first }) => first)).toEqual([1, 2, 3]);
  });

  it('names songs that are longer than the limit by themselves', async () => {
    const found = await oiseau('parts', album, '--medium', 'cd', '--limit', '0:55');
    expect(found).toMatchObject({ status: 1, out: '' });
    expect(found.err).toBe('Song of 60 alone exceeds the limit. Cut it first.\n');
  });

  it.each([
    [['--medium', 'tape'], /--medium must be one of cd, vinyl-12-33/],
    [[], /--medium must be one of/],
    [['--medium', 'cd', '--limit', 'long'], /--limit must be a time such as 18:00/],
    [['--medium', 'cd', '--count', '0'], /--count must be a number from 1 to 99/],
    [['--medium', 'cd', '--out', 'x'], /Unknown option '--out'/],
  ])('refuses %j', async (args, words) => {
    const found = await oiseau('parts', album, ...args);
    expect(found.status).toBe(2);
    expect(found.err).toMatch(words);
  });

  it('keeps its words to itself', async () => {
    expect((await oiseau('check', album, '--medium', 'cd')).err).toMatch(/Unknown option '--medium'/);
  });
});
