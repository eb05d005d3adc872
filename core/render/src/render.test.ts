import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Sequence } from '@oiseau/album/model';
import { readCueSheet } from '@oiseau/formats/disc';
import { MemorySink, type PcmSource } from '@oiseau/audio/pcm';
import { album, sequence, sequenced } from '@oiseau/album/testing';
import { firstDifference, source, words16 } from '@oiseau/audio/testing';
import { formatMsf, secondsToTicks, ticks } from '@oiseau/audio/time';
import { master, MemoryFolder, planFor, readAll, render } from './testing.js';
import { audioFiles } from './planned.js';
import { Programme } from './programme.js';
import { proveRender } from './proof.js';
import { renderPlan } from './render.js';

const s = secondsToTicks;
/** The programme of songs that each play one of some sources, in order; one source is one master. */
function programme(of: Sequence, sources: readonly PcmSource[], rate = 44_100): Programme {
  const key = (place: number): string => `m${sources.indexOf(sources[place] as PcmSource)}`;
  const songs = of.songs.map((song, i) => ({ ...song, region: { ...song.region, master: key(i) } }));
  return new Programme({ ...of, songs }, new Map(sources.map((source, i) => [key(i), source])), rate);
}
let made = 0;
const song = (...[seconds, change]: [number, Parameters<typeof sequenced>[2]?]) =>
  sequenced(`s${++made}`, seconds, change);

describe('two tracks from one recording that run into each other', () => {
  it.each([44_100, 48_000, 96_000])('are the recording, sample for sample, at %i Hz', async (rate) => {
    const master = source(48_000, 4, words16);
    const cut = s(1.234_567_8);
    const gapBefore = s(2.000_012_3);
    const whole = programme(sequence(song(4, { gapBefore })), [master], rate);
    const parts = programme(
      sequence(
        song(0, { out: cut, gapBefore }),
        song(0, { in: cut, out: s(2.5), gapBefore: ticks(0) }),
        song(4, { in: s(2.5), gapBefore: ticks(0) }),
      ),
      [master, master, master],
      rate,
    );
    const wanted = await whole.read(0, whole.length);
    const found = await parts.read(0, parts.length);
    expect(firstDifference(found.left, wanted.left)).toBe(-1);
    // Only rate conversion touches it: the cuts themselves leave it as it is.
    expect(parts.touchedRanges(16)).toEqual(whole.touchedRanges(16));
  });
});

describe('programme', () => {
  it('is silence, the region, silence', async () => {
    const of = sequence(song(0, { in: s(1), out: s(5) }));
    const { left } = await programme(of, [source(44_100, 10, words16)]).read(0, 7 * 44_100);
    expect(left[88_199]).toBe(0);
    expect(left[88_200]).toBe(words16(44_100));
    expect(left[88_200 + 4 * 44_100 - 1]).toBe(words16(5 * 44_100 - 1));
    expect(left[88_200 + 4 * 44_100]).toBe(0);
  });

  it('adds overlapping songs, each with its own gain and fade', async () => {
    const fade = { length: s(1), shape: 'linear' } as const;
    const of = sequence(
      song(5, { fadeOut: fade }),
      song(5, { gapBefore: s(-1), fadeIn: fade, gainDb: 20 * Math.log10(0.5) }),
    );
    const constant = source(44_100, 5, () => 0.8);
    const { left } = await programme(of, [constant, constant]).read(6 * 44_100, 44_100);
    // Song 1 fades 1 → 0 and song 2 at half gain 0 → 1: the middle is 0.8·(½ + ½·½).
    const x = 22_050.5 / 44_100;
    expect(left[22_050]).toBeCloseTo(0.8 * (1 - x) + 0.4 * x, 12);
  });

  it('reads the same in blocks of any size', async () => {
    const fade = { length: s(0.4), shape: 'cosine' } as const;
    const of = sequence(
      song(1, { fadeOut: fade, gapBefore: s(0.1) }),
      song(1, { gapBefore: s(-0.3), fadeIn: fade, gainDb: -3 }),
      song(0.5, { gapBefore: s(0.05) }),
    );
    const masters = () => [
      source(44_100, 1, words16),
      source(48_000, 1, words16),
      source(96_000, 1, words16),
    ];
    const length = 110_000;
    const whole = await programme(of, masters()).read(0, length);
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.integer({ min: 1, max: 40_000 }), { minLength: 3, maxLength: 8 }),
        async (cuts) => {
          const other = programme(of, masters());
          let at = 0;
          for (const cut of [...cuts, length]) {
            const count = Math.min(cut, length - at);
            if (count === 0) break;
            const block = await other.read(at, count);
            expect(firstDifference(block.left, whole.left.subarray(at, at + count))).toBe(-1);
            expect(firstDifference(block.right, whole.right.subarray(at, at + count))).toBe(-1);
            at += count;
          }
        },
      ),
      { numRuns: 8 },
    );
  });

  it('knows what is touched: longer words, gain, fades, overlaps, another rate; and nothing else', () => {
    const of = sequence(
      song(4),
      song(4, { gapBefore: s(1), fadeIn: { length: s(1), shape: 'slow' } }),
      song(4, { gapBefore: s(-1) }),
      song(4, { gapBefore: s(1), gainDb: -1 }),
      song(4, { gapBefore: ticks(0) }),
    );
    const plain = source(44_100, 4, words16);
    const ranges = programme(of, [plain, plain, plain, plain, source(48_000, 4, words16)]).touchedRanges(16);
    // Audio: 2–6, 7–11, 10–14, 15–19, 19–23 s. Touched: the fade 7–8, the overlap 10–11, the gain and the other rate 15–23.
    expect(ranges.map(({ start, end }) => [start / 44_100, end / 44_100])).toEqual([
      [7, 8],
      [10, 11],
      [15, 23],
    ]);
    const long = sequence(song(4));
    expect(programme(long, [source(44_100, 4, words16, 'int24')]).touchedRanges(16)).toHaveLength(1);
    expect(programme(long, [source(44_100, 4, words16, 'int24')]).touchedRanges(24)).toHaveLength(0);
    expect(programme(long, [source(44_100, 4, words16, 'float32')]).touchedRanges(24)).toHaveLength(1);
  });
});

describe('disc image with a cue sheet', () => {
  const two = album(
    { master: master(1), title: 'Lamp', isrc: 'ZZ-OIS-26-00001' },
    { master: master(2), title: 'Ebb', gapBefore: s(1.5) },
  );
  const masters = () => [source(44_100, 5, words16), source(44_100, 4.005, words16)];

  it('holds the disc from 00:02:00 to the lead-out, untouched audio bit for bit', async () => {
    const { folder, proof } = await render(two, masters(), { kind: 'cue' });
    const image = await readAll(folder, 'image.wav');
    // 5 + 1.5 + 4.005 s = 10.505 s = 787.875 frames → 788 frames of 588 samples
    expect(image.left.length).toBe(788 * 588);
    for (const n of [0, 1, 12_345, 5 * 44_100 - 1]) expect(image.left[n]).toBe(words16(n));
    expect(image.left[5 * 44_100]).toBe(0);
    expect(image.left[6.5 * 44_100]).toBe(words16(0));
    expect(image.right[6.5 * 44_100 + 7]).toBe(-words16(7));
    expect(image.left.at(-1)).toBe(0);
    expect(proof.proved).toBe(true);
    expect(proof.files.map(({ path, frames }) => [path, frames])).toEqual([
      ['image.wav', 788 * 588],
      ['image.cue', null],
      ['SHA256SUMS', null],
    ]);
  });

  it('has its marks, words and codes in the sheet', async () => {
    const { folder } = await render(two, masters(), { kind: 'cue', audio: 'bin' });
    const sheet = readCueSheet(new TextDecoder().decode(folder.bytes('image.cue')));
    expect(sheet).toMatchObject({ title: 'Nine Tides', file: 'image.bin', audio: 'BINARY' });
    expect(sheet.tracks.map(({ title, isrc }) => [title, isrc])).toEqual([
      ['Lamp', 'ZZOIS2600001'],
      ['Ebb', ''],
    ]);
    // From the file's start: pause at 5 s, start mark at 6.5 s = 487.5 → frame 637 absolute (8.5 s) less 150
    expect(
      sheet.tracks.map(({ indexes }) => indexes.map(({ index, frames }) => `${index} ${formatMsf(frames)}`)),
    ).toEqual([['1 00:00:00'], ['0 00:05:00', '1 00:06:37']]);
    expect(folder.bytes('image.bin').length).toBe(788 * 2352);
  });

  it('puts what a first pause has over two seconds into index 00', async () => {
    const { folder } = await render(
      album({ master: master(1), gapBefore: s(2.5) }),
      [source(44_100, 5, words16)],
      { kind: 'cue' },
    );
    const sheet = readCueSheet(new TextDecoder().decode(folder.bytes('image.cue')));
    expect(sheet.tracks[0]?.indexes).toEqual([
      { index: 0, frames: 0 },
      { index: 1, frames: 37 },
    ]);
  });

  it('holds a hidden song in the first pause, and has no file of its own for it', async () => {
    const [hush] = album({ id: 'hush', numbered: false, master: master(3), title: 'Hush' }).songs;
    const subject = { ...two, songs: [...(hush ? [hush] : []), ...two.songs] };
    const all = () => [source(44_100, 3, (n) => words16(n + 999)), ...masters()];
    const { folder, proof } = await render(subject, all(), { kind: 'cue' });
    const image = await readAll(folder, 'image.wav');
    // From 00:02:00: 3 s of it, then the gap of 2 s before track 1.
    for (const n of [0, 1, 3 * 44_100 - 1]) expect(image.left[n]).toBe(words16(n + 999));
    expect(image.left[3 * 44_100]).toBe(0);
    for (const n of [0, 12_345]) expect(image.left[5 * 44_100 + n]).toBe(words16(n));
    const sheet = readCueSheet(new TextDecoder().decode(folder.bytes('image.cue')));
    expect(sheet.tracks.map(({ indexes }) => indexes.map(({ frames }) => frames))).toEqual([
      [0, 375],
      [750, 862],
    ]);
    expect(proof.proved).toBe(true);
    const files = await render(subject, all(), { kind: 'tracks', format: 'wav', bits: 16 });
    expect(files.proof.files.map(({ path }) => path)).toEqual(['01 Lamp.wav', '02 Ebb.wav', 'SHA256SUMS']);
    expect((await readAll(files.folder, files.proof.files[0]?.path ?? '')).left[7]).toBe(words16(7));
    expect(files.proof.proved).toBe(true);
  });

  it.each(['triangular', 'shaped'])(
    'holds the samples of the disc description of the same dither (%s), also where a hidden song sounds across its start',
    async (dither) => {
      // In the first pause from 0.5 s on for 3 s: it sounds at 00:02:00, where the image with a cue sheet begins.
      const one = album({ numbered: false, master: master(2), gapBefore: s(0.5) }, { master: master(1) });
      const quiet = () =>
        [3, 5].map((seconds) => source(44_100, seconds, (n) => 0.1 + 1e-6 * (n % 11), 'int24'));
      const cue = (await render(one, quiet(), { kind: 'cue', audio: 'bin', dither })).folder.bytes(
        'image.bin',
      );
      const { folder, proof } = await render(one, quiet(), { kind: 'ddp', dither });
      expect(proof.files[0]?.tests.filter(({ passed }) => !passed)).toEqual([]);
      expect(firstDifference(cue, folder.bytes('IMAGE.DAT').subarray(150 * 2352))).toBe(-1);
    },
  );

  it('dithers longer words, the same bytes each time and in each container', async () => {
    const quiet = () => [source(44_100, 5, (n) => 0.25 + 1e-6 * (n % 7), 'int24')];
    const one = album({ master: master(1) });
    const wavBytes = (await render(one, quiet(), { kind: 'cue' })).folder.bytes('image.wav');
    const again = (await render(one, quiet(), { kind: 'cue' })).folder.bytes('image.wav');
    const bin = (await render(one, quiet(), { kind: 'cue', audio: 'bin' })).folder.bytes('image.bin');
    expect(firstDifference(again, wavBytes)).toBe(-1);
    expect(firstDifference(bin, wavBytes.subarray(44))).toBe(-1);
    const other = (await render(one, quiet(), { kind: 'cue', dither: 'none' })).folder.bytes('image.wav');
    expect(firstDifference(other, wavBytes)).toBeGreaterThan(43);
  });
});

describe('files for each track', () => {
  const three = album(
    { master: master(1), title: 'Lamp' },
    { master: master(2), title: 'Ebb', gapBefore: s(1.01) },
    { master: master(3), title: 'Neap', gapBefore: s(-0.5) },
  );
  const masters = () => [
    source(44_100, 5, words16),
    source(44_100, 6, words16, 'int24'),
    source(44_100, 5, words16),
  ];

  it.each(['append', 'prepend'])('%s: laid end to end they are the programme', async (gaps) => {
    const { folder, plan } = await render(three, masters(), {
      kind: 'tracks',
      format: 'wav',
      bits: 16,
      gaps,
    });
    const image = await readAll((await render(three, masters(), { kind: 'cue' })).folder, 'image.wav');
    let at = 0;
    for (const { path } of audioFiles(plan)) {
      const { left } = await readAll(folder, path);
      expect(firstDifference(left, image.left.subarray(at, at + left.length))).toBe(-1);
      at += left.length;
    }
    // 5 + 1.01 + 6 − 0.5 + 5 s, not filled to the frame
    expect(at).toBe(Math.round(16.51 * 44_100));
  });

  it('drop: each ends where its audio ends, or where the next begins', async () => {
    const { plan } = await render(three, masters(), { kind: 'tracks', bits: 16, gaps: 'drop' });
    // Song 2 starts at 8.01 s; its mark at frame 600 = 8 s. Song 3 starts at 13.51 s; mark at frame 1013 = 13.5066… s
    expect(audioFiles(plan).map(({ length }) => length)).toEqual([
      5 * 44_100,
      1013 * 588 - 600 * 588,
      Math.round(18.51 * 44_100) - 1013 * 588,
    ]);
  });

  it('take each master’s rate, chosen tracks and names from the pattern', async () => {
    const mixed = [source(96_000, 5, words16), source(44_100, 6, words16), source(48_000, 5, words16)];
    const { plan, proof } = await render(three, mixed, {
      kind: 'tracks',
      select: [1, 3],
      pattern: '{title} – {performer}',
      dither: 'none',
    });
    expect(audioFiles(plan).map(({ path, rate, format }) => [path, rate, format])).toEqual([
      ['Lamp – Marram Lamps.wav', 96_000, 'int24'],
      ['Neap – Marram Lamps.wav', 48_000, 'int24'],
    ]);
    expect(proof.proved).toBe(true);
  });

  it('stop at once when progress throws', async () => {
    const { plan, input } = planFor(three, masters(), { kind: 'cue' });
    const stop = renderPlan(plan, input, new MemoryFolder(), () => {
      throw new Error('stopped');
    });
    await expect(stop).rejects.toThrow('stopped');
  });
});

describe('proof', () => {
  it('sees a single changed sample, and says which file', async () => {
    const one = album({ master: master(1) });
    const masters = [source(44_100, 5, words16)];
    const { plan, input } = planFor(one, masters, { kind: 'cue' });
    const folder = new MemoryFolder();
    const { written } = await renderPlan(plan, input, folder, () => undefined);
    const damaged = folder.bytes('image.wav').slice();
    damaged[50_000] = (damaged[50_000] ?? 0) ^ 1;
    const sink = new MemorySink();
    await sink.write(damaged);
    folder.files.set('image.wav', sink);
    const proof = await proveRender(plan, written, 1, false, folder, () => undefined);
    expect(proof.proved).toBe(false);
    expect(proof.files[0]?.tests.filter(({ passed }) => !passed).map(({ id }) => id)).toEqual(['audio']);
    // The list of sums tells it as well.
    expect(proof.files.at(-1)?.tests).toEqual([
      { id: 'checksums', passed: false, found: 'image.wav', wanted: 'in order' },
    ]);
  });
});
