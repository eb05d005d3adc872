import { mkdir, mkdtemp, readdir, readFile, rename, rm, symlink, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { beginPartial, completePartial, demandReplaceable, TargetRefused } from './target-folder.js';

let folder: string;
let target: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-target-'));
  target = join(folder, 'image');
});
afterEach(() => rm(folder, { recursive: true, force: true }));

async function write(files: Readonly<Record<string, string>>, at = target): Promise<void> {
  await mkdir(at, { recursive: true });
  for (const [path, text] of Object.entries(files)) {
    await mkdir(dirname(join(at, path)), { recursive: true });
    await writeFile(join(at, path), text);
  }
}
const proofOf = (...paths: string[]): string => JSON.stringify({ files: paths.map((path) => ({ path })) });
const everything = (): Promise<string[]> => readdir(folder, { recursive: true });

/** A whole render, from the first folder to the last name. */
async function render(text: string, kept: readonly string[] = []): Promise<void> {
  await demandReplaceable(target, kept);
  const partial = await beginPartial(target);
  await write({ 'image.wav': text, 'proof.json': proofOf('image.wav') }, partial);
  await completePartial(partial, target, kept);
}

describe('a render', () => {
  it('stands alone in its folder, and takes the place of an earlier one', async () => {
    await render('first');
    await render('second');
    expect(await readFile(join(target, 'image.wav'), 'utf8')).toBe('second');
    expect((await everything()).sort()).toEqual(['image', 'image/image.wav', 'image/proof.json']);
  });

  it.each([
    ['a folder of other files', { 'photo.jpg': 'x' }, 'it wasn’t written by a render'],
    [
      'one file more than its proof lists',
      { 'proof.json': proofOf('a.wav'), 'a.wav': '', 'notes.txt': '' },
      'it contains “notes.txt”',
    ],
    [
      'one deeper down',
      { 'proof.json': proofOf('disc-1/a.wav'), 'disc-1/a.wav': '', 'disc-1/b/c': '' },
      'it contains “disc-1/b/c”',
    ],
    ['a proof that is none', { 'proof.json': '{}' }, 'its proof.json wasn’t written by a render'],
    ['a proof of something else', { 'proof.json': 'theorem' }, 'its proof.json wasn’t written by a render'],
  ])('never replaces %s', async (_, files, why) => {
    await write(files);
    const before = await everything();
    await expect(render('new')).rejects.toThrow(why);
    await expect(render('new')).rejects.toThrow(TargetRefused);
    expect(await everything()).toEqual(before);
  });

  it('never replaces a file, a link, or a folder that the album needs, whatever lies in it', async () => {
    await writeFile(target, 'mine');
    await expect(render('new')).rejects.toThrow('it isn’t a folder');
    await rm(target);
    await write({ 'proof.json': proofOf() }, join(folder, 'elsewhere'));
    await symlink(join(folder, 'elsewhere'), target);
    await expect(render('new')).rejects.toThrow('it isn’t a folder');
    await rm(target);
    // The album's master is the file of an earlier render.
    await render('first');
    await expect(render('second', [join(target, 'image.wav')])).rejects.toThrow('which the album uses');
    expect(await readFile(join(target, 'image.wav'), 'utf8')).toBe('first');
  });

  it('clears what a killed one has left, and nothing else of that name', async () => {
    const left = await beginPartial(target);
    await write({ 'half.wav': 'half' }, left);
    await render('whole');
    expect((await everything()).sort()).toEqual(['image', 'image/image.wav', 'image/proof.json']);
    await write({ 'mine.txt': 'mine' }, left);
    await expect(render('again')).rejects.toThrow('it isn’t an interrupted render');
    expect(await readFile(join(left, 'mine.txt'), 'utf8')).toBe('mine');
  });

  it('has what stood there before again, when it was killed between two names', async () => {
    await render('first');
    await rename(target, join(folder, '.image.before'));
    await beginPartial(target);
    expect(await readFile(join(target, 'image.wav'), 'utf8')).toBe('first');
    // Killed a moment later: the new one stands, and the old one goes.
    await write({ 'image.wav': 'old', 'proof.json': proofOf('image.wav') }, join(folder, '.image.before'));
    await render('second');
    expect((await everything()).sort()).toEqual(['image', 'image/image.wav', 'image/proof.json']);
  });
});
