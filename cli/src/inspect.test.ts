import { execFileSync } from 'node:child_process';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { encodeWords, wavHeader } from '@oiseau/audio/pcm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { runOiseau } from './testing.js';

let folder: string;
const RATE = 44_100;
/** Noise up to half the rate for some seconds, the same every time. */
function noise(seconds: number): Buffer {
  let state = 1;
  const left = Float64Array.from({ length: seconds * RATE }, () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return 0.25 * (state / 2 ** 31 - 1);
  });
  return Buffer.concat([wavHeader('int16', RATE, left.length), encodeWords({ left, right: left }, 'int16')]);
}
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-inspect-'));
  await writeFile(join(folder, 'one.wav'), noise(4));
  await writeFile(join(folder, 'two.wav'), noise(4));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const oiseau = (...args: string[]) => runOiseau(args);
interface Found {
  measure: { bandwidthHz: number | null };
  tags: Record<string, string>;
  chapters?: { seconds: number; title: string }[];
  doubts: { code: string; edgeHz?: number; degree?: string }[];
  disc: { marks: object[]; leadOut: number } | null;
  problems: string[];
}
const inspect = async (path: string): Promise<Found> =>
  JSON.parse((await oiseau('inspect', path)).out) as Found;

describe('what a file says of itself', () => {
  it('comes back from every form that Oiseau wrote, with chapters and a playlist', async () => {
    const album = join(folder, 'album.json');
    await writeFile(
      album,
      JSON.stringify({
        ...{ format: 'oiseau-album', version: 1, title: 'Nine Tides', phonogram: '2026 Low Light' },
        revisionDate: '2026-11-20',
        tracks: [
          { master: 'one.wav', title: 'Lamp', performer: 'Ada', tempo: { bpm: 92.4, beat: 0 } },
          { master: 'two.wav', title: 'Ebb' },
        ],
        deliverables: [
          ...['wav', 'aiff', 'flac', 'mp3', 'm4a', 'opus', 'ogg'].map((format) => ({
            ...{ name: format, kind: 'continuous', format },
          })),
          ...[
            { name: 'files', kind: 'tracks', format: 'wav', playlist: true, tempoTags: true },
            { name: 'songs', kind: 'tracks', format: 'aiff', id3: 2.4, pattern: '{number} {revisionDate}' },
          ],
        ],
      }),
    );
    const out = join(folder, 'out');
    expect(await oiseau('render', album, '--out', out)).toMatchObject({ status: 0 });
    for (const format of ['wav', 'aiff', 'flac', 'mp3', 'm4a', 'opus', 'ogg']) {
      const { tags, chapters } = await inspect(join(out, format, `${format}.${format}`));
      expect(tags, format).toMatchObject({ TITLE: 'Nine Tides', PHONOGRAM: '2026 Low Light' });
      // Song 1 lasts 4 s, the gap 2 s: track 2 begins at 6 s. FLAC has a cue sheet block, which FFprobe has no chapters of.
      if (format === 'flac') continue;
      expect(
        chapters?.map(({ seconds }) => seconds),
        format,
      ).toEqual([0, 6]);
      expect(chapters?.[1]?.title, format).toMatch(/Ebb/);
    }
    expect((await inspect(join(out, 'files', '01 Lamp.wav'))).tags).toMatchObject({
      ...{ TITLE: 'Lamp', ARTIST: 'Ada', ALBUM: 'Nine Tides', TRACK: '1/2', TBPM: '92' },
    });
    expect(await readFile(join(out, 'files', 'files.m3u8'), 'utf8')).toBe(
      // The first file holds the gap before the second.
      '#EXTM3U\n#EXTINF:6,Ada - Lamp\n01 Lamp.wav\n#EXTINF:4,Ebb\n02 Ebb.wav\n',
    );
    const [song = ''] = (await readdir(join(out, 'songs'))).filter((name) => name.endsWith('.aiff')).sort();
    expect(song).toBe('01 2026-11-20.aiff');
    expect((await inspect(join(out, 'songs', song))).tags).toMatchObject({ TITLE: 'Lamp', ARTIST: 'Ada' });
  }, 60_000);
});

describe('what a file hides', () => {
  it('is told with its figures: how far up it goes, and a lossy past', async () => {
    const whole = await inspect(join(folder, 'one.wav'));
    expect(whole.measure.bandwidthHz).toBeGreaterThan(21_500);
    expect(whole.doubts.map(({ code }) => code)).not.toContain('lossy-past');
    const [mp3, back] = [join(folder, 'low.mp3'), join(folder, 'back.wav')];
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', join(folder, 'one.wav'), '-b:a', '128k', mp3]);
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', mp3, back]);
    const { measure, doubts } = await inspect(back);
    const past = doubts.find(({ code }) => code === 'lossy-past');
    expect(past?.degree).toMatch(/^(likely|possible)$/);
    expect(Math.abs((measure.bandwidthHz ?? 0) - (past?.edgeHz ?? 0))).toBeLessThan(800);
    expect((await inspect(mp3)).doubts).toContainEqual({ code: 'lossy', codec: 'mp3' });
  });
});

describe('a cue sheet of several files', () => {
  it('is one image, each file looked up beside it', async () => {
    const cue = join(folder, 'several.cue');
    await writeFile(
      cue,
      'FILE "one.wav" WAVE\n TRACK 01 AUDIO\n  INDEX 01 00:00:00\nFILE "two.wav" WAVE\n TRACK 02 AUDIO\n  INDEX 01 00:01:00\n',
    );
    const { disc, problems } = await inspect(cue);
    expect(problems).toEqual([]);
    // The image begins 2 s into the disc; track 2 stands 1 s into its file, which begins at 4 s; 8 s in all.
    expect(disc).toMatchObject({ marks: [{ frames: 150 }, { frames: 525 }], leadOut: 750 });
    await writeFile(
      cue,
      (await readFile(cue, 'utf8')).replace('two.wav', '../two.wav').replace('one.wav', 'gone.wav'),
    );
    expect((await inspect(cue)).problems).toEqual(['The image gone.wav is missing.']);
  });
});
