import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import fc from 'fast-check';
import { AudioRefused, encodeWords, PcmFileSource, wavHeader } from '@oiseau/audio/pcm';
import { deliverableSchema, newAlbum, newSong, type Album, type Song } from '@oiseau/album/model';
import { layOutAlbum } from '@oiseau/album/layout';
import { measureHere, measureMaster } from '@oiseau/audio/measure';
import { planDeliverable } from '@oiseau/render';
import { secondsToTicks } from '@oiseau/audio/time';
import { treatmentSchema } from '@oiseau/audio/stages';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openMaster, renderToFolder, SummedSource, Threads, type OpenMaster } from './index.js';
import { partialFolder } from './target-folder.js';

/** The program of a thread, as it is built. */
const PROGRAM = resolve('dist/render-thread.mjs');

let folder: string;
const opened = new Map<string, OpenMaster>();
const pools = new Map<number, Threads>();

async function wav(name: string, rate: number, seconds: number, format: 'int16' | 'int24'): Promise<void> {
  const length = Math.round(rate * seconds);
  const left = Float64Array.from(
    { length },
    (_, n) => 0.4 * Math.sin(n * 0.021) + 0.3 * Math.sin(n * n * 0.0003),
  );
  // A second of silence, which stays silent.
  left.fill(0, rate, 2 * rate);
  const words = encodeWords({ left, right: left.map((value, n) => (n < rate ? value : -value / 2)) }, format);
  const head = wavHeader(format, rate, length);
  await writeFile(join(folder, name), Buffer.concat([head, words]));
}

beforeAll(async () => {
  execFileSync(process.execPath, ['scripts/script.mjs', 'build', '--only', 'render-thread']);
  folder = await mkdtemp(join(tmpdir(), 'oiseau-threads-'));
  await wav('a.wav', 48_000, 13, 'int24');
  await wav('b.wav', 44_100, 9.5, 'int16');
  for (const name of ['a.wav', 'b.wav']) opened.set(name, await openMaster(join(folder, name)));
  for (const most of [1, 2, 3]) pools.set(most, new Threads(PROGRAM, most));
});
afterAll(async () => {
  for (const pool of pools.values()) await pool.close();
  for (const master of opened.values()) await master.close();
  await rm(folder, { recursive: true, force: true });
});

const masters = () => new Map([...opened].map(([name, { source }]) => [name, source]));

async function render(
  album: Album,
  settings: object,
  target: string,
  threads: Threads | null,
  stopAt = Infinity,
): Promise<void> {
  const sources = masters();
  const parts = layOutAlbum(album, sources);
  const deliverable = deliverableSchema.parse({ name: 'd', ...settings });
  const plan = planDeliverable(deliverable, {
    ...{ album, parts, masters: sources, revision: 1, revisionDate: '2026-11-26' },
  });
  const { proved } = await renderToFolder(
    plan,
    { parts, masters: sources, cover: null },
    1,
    target,
    (_, seconds) => {
      if (seconds >= stopAt) throw new Error('stopped by a person');
    },
    [],
    threads && { threads },
  );
  expect(proved).toBe(true);
}

/** SHA-256 of each file of a folder. */
async function sums(target: string): Promise<Record<string, string>> {
  const names = (await readdir(target)).sort();
  const all = await Promise.all(
    names.map(async (name) => [
      name,
      createHash('sha256')
        .update(await readFile(join(target, name)))
        .digest('hex'),
    ]),
  );
  return Object.fromEntries(all) as Record<string, string>;
}

/** Stages that begin anew every other second, and some that do so seldom. */
const OFTEN = treatmentSchema.parse({ equaliser: [{ kind: 'bell', hz: 900, db: 2, q: 1 }] });
const SELDOM = treatmentSchema.parse({
  ...OFTEN,
  compressor: { threshold: -20, ratio: 2, attack: 5, release: 60, knee: 6, makeup: 1 },
  limiter: { drive: 3, ceiling: -1, release: 50 },
});

const song = fc.record({
  master: fc.constantFrom('a.wav', 'b.wav'),
  gap: fc.integer({ min: -2, max: 2 }),
  gainDb: fc.constantFrom(0, -1.5),
  fade: fc.constantFrom(0, 1.2),
  sound: fc.constantFrom(null, OFTEN, SELDOM),
});
const albums = fc.array(song, { minLength: 1, maxLength: 3 }).map((songs) => ({
  ...newAlbum('Nine Tides'),
  songs: songs.map(({ master, gap, gainDb, fade, sound }, i): Song => {
    const made = newSong(`t${i}`, master, `Song ${i + 1}`);
    const length = secondsToTicks(fade);
    return {
      ...made,
      region: {
        ...made.region,
        ...{ gainDb, gapBefore: secondsToTicks(i === 0 ? 2 : gap), fadeOut: { length, shape: 'cosine' } },
        ...(sound && { sound }),
      },
    };
  }),
}));
const deliverables = fc.constantFrom<object>(
  { kind: 'cue', dither: 'triangular' },
  { kind: 'cue', dither: 'shaped' },
  { kind: 'continuous', format: 'wav', bits: 24, rate: 96_000 },
  { kind: 'tracks', format: 'wav', bits: 16, rate: 44_100, dither: 'rectangular' },
  { kind: 'tracks', format: 'wav', bits: 32, rate: 48_000 },
);

describe('a render made by threads', () => {
  it('has the same bytes with none, 1 and 3 of them', { timeout: 300_000 }, async () => {
    let run = 0;
    await fc.assert(
      fc.asyncProperty(albums, deliverables, async (album, settings) => {
        const counts = [0, 1, 3];
        const targets = counts.map((most) => join(folder, `${run}-${most}`));
        run++;
        for (const [i, most] of counts.entries())
          await render(album, settings, targets[i] ?? '', pools.get(most) ?? null);
        const [wanted, ...found] = await Promise.all(targets.map(sums));
        for (const each of found) expect(each).toEqual(wanted);
        for (const target of targets) await rm(target, { recursive: true });
      }),
      { numRuns: 5 },
    );
  });

  it('ends where somebody stops it, and leaves nothing', async () => {
    const album = { ...newAlbum('Stopped'), songs: [newSong('t', 'a.wav', 'Song')] };
    const target = join(folder, 'stopped');
    await expect(render(album, { kind: 'cue' }, target, pools.get(2) ?? null, 5)).rejects.toThrow(
      'stopped by a person',
    );
    expect(await readdir(folder)).not.toContain('stopped');
    expect(await readdir(folder)).not.toContain(partialFolder(target).split('/').at(-1));
    // The threads are there for the next one.
    await render(album, { kind: 'cue' }, target, pools.get(2) ?? null);
  });

  it('reads what is there: a master that was cut meanwhile ends it', async () => {
    await wav('cut.wav', 44_100, 12, 'int16');
    const path = join(folder, 'cut.wav');
    const master = await openMaster(path);
    await writeFile(path, (await readFile(path)).subarray(0, 100_000), { flag: 'r+' });
    execFileSync('truncate', ['-s', '100000', path]);
    opened.set('cut.wav', master);
    const album = { ...newAlbum('Cut'), songs: [newSong('t', 'cut.wav', 'Song')] };
    const target = join(folder, 'cut');
    await expect(render(album, { kind: 'cue' }, target, pools.get(2) ?? null)).rejects.toThrow(AudioRefused);
    opened.delete('cut.wav');
    await master.close();
  });
});

describe('runs of stretches', () => {
  const stretchesOf = (most: number, share: number) => {
    const made = pools.get(most)?.stretches({}, masters(), share);
    if (!made) throw new Error('no threads');
    return made;
  };
  /** Of four seconds, in a run of 13. */
  const stretch = (rate: number) => ({
    ...{ programme: 'p', from: 0, to: 4 * rate },
    run: { from: 0, stretches: 13 },
  });
  const cd = { format: 'int16', dither: 'triangular', seed: { a: 1, b: 2 } } as const;

  it('are made side by side by the threads of a render, as long as what waits is no more than 100 MB', () => {
    // Two of each thread’s are under way beside the run that is made ahead: 13 · 4 · 44 100 · 4 bytes are 9 MB.
    expect(stretchesOf(2, 2).width(stretch(44_100), cd)).toBe(2 + 2 + 13);
    expect(stretchesOf(3, 3).width(stretch(44_100), cd)).toBe(3 + 2 + 2 * 13);
    // 13 · 4 · 96 000 · 16 bytes are 80 MB, of which there is room for one; at 192 kHz for none.
    expect(stretchesOf(3, 3).width(stretch(96_000), null)).toBe(3 + 2 + 13);
    expect(stretchesOf(3, 3).width(stretch(192_000), null)).toBe(3 + 2);
    // Who has one thread of several makes one run after the other.
    expect(stretchesOf(2, 1).width(stretch(44_100), cd)).toBe(1);
  });

  it('end with what still waits when the threads do', async () => {
    const threads = new Threads(PROGRAM, 1);
    const made = threads.stretches({}, masters());
    const asked = [0, 1, 2].map((place) => made?.words({ ...stretch(44_100), programme: `${place}` }, cd));
    const ended = Promise.allSettled(asked);
    await threads.close();
    expect((await ended).map(({ status }) => status)).toEqual(['rejected', 'rejected', 'rejected']);
  });
});

it('what threads measure is what this one measures', async () => {
  const source = masters().get('a.wav');
  if (!source) throw new Error('no master');
  const wanted = await measureMaster(source, measureHere);
  for (const pool of pools.values()) {
    const found = await measureMaster(source, pool.measurer());
    expect(found.measurement).toEqual(wanted.measurement);
    expect(found.silhouette.values).toEqual(wanted.silhouette.values);
  }
});

describe('a master that is summed while threads read it', () => {
  async function renderSummed(change: (path: string) => Promise<void>): Promise<string> {
    await wav('summed.wav', 44_100, 30, 'int24');
    const path = join(folder, 'summed.wav');
    const { source, close } = await openMaster(path);
    const bytes = await SummedSource.open(path);
    const pcm = new PcmFileSource(source.info, bytes);
    const album = { ...newAlbum('Summed'), songs: [newSong('t', 'm', 'Song')] };
    const sources = new Map([['m', pcm]]);
    const parts = layOutAlbum(album, sources);
    const plan = planDeliverable(deliverableSchema.parse({ name: 'd', kind: 'cue' }), {
      ...{ album, parts, masters: sources, revision: 1, revisionDate: '2026-11-26' },
    });
    let sum = '';
    const input = {
      ...{ parts, masters: sources, cover: null },
      attest: async () => {
        await change(path);
        sum = await bytes.sum();
      },
    };
    const target = join(folder, 'summed');
    const threads = pools.get(2);
    await renderToFolder(plan, input, 1, target, () => undefined, [], threads ? { threads } : null);
    await rm(target, { recursive: true });
    await bytes.close();
    await close();
    return sum;
  }

  it('has the sum of its file', async () => {
    const sum = await renderSummed(() => Promise.resolve());
    const file = await readFile(join(folder, 'summed.wav'));
    expect(sum).toBe(createHash('sha256').update(file).digest('hex'));
  });

  it('has none where what they read was another file than the one that is there', async () => {
    const sum = await renderSummed(async (path) => {
      const file = await readFile(path);
      file[2_000_000] = (file[2_000_000] ?? 0) ^ 1;
      await writeFile(path, file, { flag: 'r+' });
    });
    expect(sum).toBe('');
  });
});
