import { execFile } from 'node:child_process';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { AudioRefused, encodeWords, PcmFileSource, wavHeader, type Block } from '@oiseau/audio/pcm';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { FileByteSource } from './file-source.js';
import { prepareMaster, type PreparedMaster } from './master-intake.js';

const run = promisify(execFile);
const SECONDS = 3;
/** 24-bit words that look like noise, other ones on each side. */
const word = (n: number): number => (((n * 48_271) % 4_000_000) - 2_000_000) / 8_388_608;
const left = Float64Array.from({ length: SECONDS * 48_000 }, (_, n) => word(n));
const audio: Block = { left, right: left.map((value) => -value) };

let folder: string;
const at = (name: string): string => join(folder, name);
const ffmpeg = (...args: string[]) => run('ffmpeg', ['-v', 'error', '-nostdin', '-y', ...args]);
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-intake-'));
  await writeFile(
    at('source.wav'),
    Buffer.concat([wavHeader('int24', 48_000, left.length), encodeWords(audio, 'int24')]),
  );
});
afterEach(() => rm(folder, { recursive: true, force: true }));

const prepare = (name: string, mono = false): Promise<PreparedMaster> =>
  prepareMaster(at(name), mono, at('scratch'));

async function samplesOf(name: string, { info, decoded }: PreparedMaster): Promise<Block> {
  const bytes = await FileByteSource.open(decoded ?? at(name));
  try {
    return await new PcmFileSource(info, bytes).read(0, info.length);
  } finally {
    await bytes.close();
  }
}

describe('a master that comes in', () => {
  it.each([
    ['AIFF', 'master.aiff', ['-c:a', 'pcm_s24be'], null],
    ['AIFC of turned words', 'master.aifc', ['-c:a', 'pcm_s16le', '-f', 'aiff'], null],
    ['FLAC', 'master.flac', ['-c:a', 'flac'], 'flac'],
    ['ALAC in M4A', 'master.m4a', ['-c:a', 'alac'], 'alac'],
  ])('as %s holds the very words that went into it', async (_, name, options, codec) => {
    await ffmpeg('-i', at('source.wav'), ...options, at(name));
    const master = await prepare(name);
    expect(master.coding?.codec ?? null).toBe(codec);
    expect(master.coding?.lossy ?? false).toBe(false);
    expect(master.info).toMatchObject({ rate: 48_000, channels: 2, length: left.length });
    const found = await samplesOf(name, master);
    const step = master.info.format === 'int16' ? 1 / 32_768 : 0;
    const error = found.left.reduce((most, value, n) => Math.max(most, Math.abs(value - word(n))), 0);
    expect(error).toBeLessThanOrEqual(step);
    expect(found.right[77]).toBeCloseTo(-(found.left[77] ?? 0), step > 0 ? 4 : 12);
  });

  it.each([
    ['mp3', 'a.mp3', ['-c:a', 'libmp3lame', '-b:a', '320k'], 'mp3'],
    ['AAC', 'a.m4a', ['-c:a', 'aac', '-b:a', '256k'], 'aac'],
    ['Opus', 'a.opus', ['-c:a', 'libopus', '-b:a', '256k'], 'opus'],
    ['Vorbis', 'a.ogg', ['-c:a', 'libvorbis', '-q:a', '8'], 'vorbis'],
  ])(
    'as %s is decoded to float words, without the encoder’s padding, and called lossy',
    async (_, name, options, codec) => {
      await ffmpeg('-f', 'lavfi', '-i', 'sine=440:r=48000:d=3', '-ac', '2', ...options, at(name));
      const master = await prepare(name);
      expect(master.coding).toMatchObject({ codec, lossy: true });
      expect(master.info.format).toBe('float32');
      // Three seconds; an AAC frame of 1024 samples may stay at the end.
      expect(Math.abs(master.info.length - 144_000)).toBeLessThanOrEqual(1024);
      // A mono sine of amplitude 1/8 on two sides at 3.01 dB less: −18.06 − 3.01 dBFS
      const { left: heard } = await samplesOf(name, master);
      const peak = heard.subarray(48_000, 96_000).reduce((most, value) => Math.max(most, Math.abs(value)), 0);
      expect(20 * Math.log10(peak)).toBeCloseTo(-21.07, 0);
    },
  );

  it('offers the words, marks and the cover that lie in it', async () => {
    await writeFile(
      at('marks.txt'),
      ';FFMETADATA1\n[CHAPTER]\nTIMEBASE=1/1000\nSTART=0\nEND=1500\ntitle=Flood\n[CHAPTER]\nTIMEBASE=1/1000\nSTART=1500\nEND=3000\ntitle=Ebb\n',
    );
    await ffmpeg('-f', 'lavfi', '-i', 'color=red:s=32x32:d=1', '-frames:v', '1', at('cover.png'));
    await ffmpeg(
      ...['-i', at('source.wav'), '-i', at('cover.png'), '-i', at('marks.txt'), '-map', '0:a', '-map', '1:v'],
      ...['-map_metadata', '2', '-map_chapters', '2', '-c:v', 'copy', '-disposition:v', 'attached_pic'],
      ...[
        '-metadata',
        'title=Lantern; Oil',
        '-metadata',
        'artist=Marram Lamps',
        '-metadata',
        'TSRC=ZZOIS2600002',
      ],
      at('tagged.mp3'),
    );
    const { text, cover } = await prepare('tagged.mp3');
    expect(text.fields).toMatchObject({
      title: 'Lantern; Oil',
      performer: 'Marram Lamps',
      isrc: 'ZZOIS2600002',
    });
    expect(text.cues).toEqual([
      { at: 0, name: 'Flood' },
      { at: 72_000, name: 'Ebb' },
    ]);
    expect((await readFile(cover ?? '')).equals(await readFile(at('cover.png')))).toBe(true);
  });

  it('of one channel sounds in both once a person agreed', async () => {
    for (const name of ['mono.wav', 'mono.flac']) {
      await ffmpeg(
        '-i',
        at('source.wav'),
        '-af',
        'pan=mono|c0=FL',
        '-c:a',
        name === 'mono.wav' ? 'pcm_s24le' : 'flac',
        at(name),
      );
      await expect(prepare(name)).rejects.toMatchObject({ reason: 'mono' });
      const master = await prepare(name, true);
      const { left: l, right: r } = await samplesOf(name, master);
      expect([l[99], r[99]]).toEqual([word(99), word(99)]);
      await rm(at('scratch'), { force: true });
    }
  });
});

describe('a broken file is refused with a sentence of its own, and leaves nothing behind:', () => {
  const cut = async (name: string, share: number): Promise<Buffer> => {
    const whole = await readFile(at(name));
    return whole.subarray(0, Math.floor(whole.length * share));
  };
  const damaged = async (name: string): Promise<Buffer> => {
    const whole = await readFile(at(name));
    whole.fill(0x55, whole.length >> 1, (whole.length >> 1) + 400);
    return whole;
  };
  it('a float file with a value that is no number', async () => {
    const words = new Float64Array(48_000).fill(0.1);
    words[24_000] = NaN;
    const block = { left: words.map(() => 0.1), right: words };
    await writeFile(
      at('nan.wav'),
      Buffer.concat([wavHeader('float32', 48_000, 48_000), encodeWords(block, 'float32')]),
    );
    await expect(prepare('nan.wav')).rejects.toMatchObject({
      reason: 'damaged-audio',
      message: 'The file is damaged: the sample at 0.500 s isn’t a number.',
    });
  });
  it.each<[string, string, string[], (name: string) => Promise<Buffer>, string, RegExp]>([
    [
      'a FLAC file that ends early',
      'a.flac',
      ['-c:a', 'flac'],
      (name) => cut(name, 0.6),
      'truncated|damaged-audio',
      /truncated|damaged/,
    ],
    [
      'a FLAC file with a hole',
      'b.flac',
      ['-c:a', 'flac'],
      damaged,
      'damaged-audio',
      /could not be decoded to the end/,
    ],
    [
      'an M4A file without its index',
      'a.m4a',
      ['-c:a', 'alac'],
      (name) => cut(name, 0.6),
      'not-audio',
      /no audio that can be decoded/,
    ],
    [
      'a file that only begins like FLAC',
      'c.flac',
      ['-c:a', 'flac'],
      () => Promise.resolve(Buffer.from('fLaC and then words')),
      'not-audio',
      /no audio that can be decoded/,
    ],
    [
      'an AIFF file that ends early',
      'a.aiff',
      [],
      (name) => cut(name, 0.5),
      'truncated',
      /header announces 576000 bytes of audio/,
    ],
    [
      'six channels',
      'six.flac',
      ['-ac', '6', '-c:a', 'flac'],
      (name) => readFile(at(name)),
      'too-many-channels',
      /6 channels/,
    ],
    [
      'a rate of 8 kHz',
      'low.flac',
      ['-ar', '8000', '-c:a', 'flac'],
      (name) => readFile(at(name)),
      'unsupported-rate',
      /8000 Hz/,
    ],
  ])('%s', async (_, name, options, broken, reason, words) => {
    await ffmpeg('-i', at('source.wav'), ...options, at(name));
    await writeFile(at(name), await broken(name));
    const before = await readdir(folder);
    const caught: unknown = await prepare(name).catch((error: unknown) => error);
    expect(caught).toBeInstanceOf(AudioRefused);
    expect((caught as AudioRefused).reason).toMatch(new RegExp(reason));
    expect((caught as AudioRefused).message).toMatch(words);
    expect(await readdir(folder)).toEqual(before);
  });
});
