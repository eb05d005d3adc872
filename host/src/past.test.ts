import { execFile } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { encodeWords, openWav, wavHeader } from '@oiseau/audio/pcm';
import { MasterMeters, readThrough } from '@oiseau/audio/measure';
import { masterDoubts, type MasterDoubt } from '@oiseau/checks';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { FileByteSource } from './file-source.js';

const run = promisify(execFile);
const ffmpeg = (...args: string[]) => run('ffmpeg', ['-v', 'error', '-nostdin', '-y', ...args]);
let folder: string;
const at = (name: string): string => join(folder, name);

/** Bursts of noise that fall off by 3 dB an octave and more, as struck things do: wide, and never the same. */
async function bursts(name: string, rate: number): Promise<void> {
  let state = 1;
  let before = 0;
  const left = Float64Array.from({ length: 6 * rate }, (_, n) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    const white = state / 2 ** 31 - 1;
    before = 0.5 * before + 0.5 * white;
    return 0.4 * before * Math.exp((-8 * (n % (rate / 4))) / rate);
  });
  const words = encodeWords(
    { left, right: left.map((value, n) => 0.8 * value + 0.1 * (left[n - 7] ?? 0)) },
    'int24',
  );
  await writeFile(at(name), Buffer.concat([wavHeader('int24', rate, left.length), words]));
}

/** What a master’s upper end makes doubtful. */
async function pastOf(name: string): Promise<MasterDoubt[]> {
  const source = await FileByteSource.open(at(name));
  try {
    const pcm = await openWav(source);
    const { info } = pcm;
    const meters = new MasterMeters(info.rate, info.format, info.length);
    await readThrough(pcm, (block) => meters.push(block));
    const { measurement } = meters.result();
    return masterDoubts({ info, coding: null, measurement }).filter(({ code }) =>
      ['lossy-past', 'upsampled'].includes(code),
    );
  } finally {
    await source.close();
  }
}

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-past-'));
  for (const rate of [44_100, 48_000, 96_000]) await bursts(`${rate}.wav`, rate);
});
afterAll(() => rm(folder, { recursive: true, force: true }));

describe('a lossless file that was lossy', () => {
  it.each([
    ['mp3 at 128 kbit/s', 'mp3', ['-c:a', 'libmp3lame', '-b:a', '128k'], [15_500, 17_500]],
    ['mp3 at 320 kbit/s', 'mp3', ['-c:a', 'libmp3lame', '-b:a', '320k'], [19_800, 20_600]],
    ['AAC at 128 kbit/s', 'm4a', ['-c:a', 'aac', '-b:a', '128k'], [16_500, 18_000]],
    ['Opus at 96 kbit/s', 'opus', ['-c:a', 'libopus', '-b:a', '96k', '-ar', '48000'], [19_800, 20_600]],
    ['Vorbis at quality 3', 'ogg', ['-c:a', 'libvorbis', '-q:a', '3'], [17_000, 19_000]],
  ] as const)('is told by its edge: %s', async (_, extension, options, [low, high]) => {
    await ffmpeg('-i', at('44100.wav'), ...options, at(`coded.${extension}`));
    await ffmpeg('-i', at(`coded.${extension}`), '-c:a', 'pcm_s16le', at('decoded.wav'));
    const [doubt] = await pastOf('decoded.wav');
    expect(doubt?.code).toBe('lossy-past');
    const hz = doubt?.code === 'lossy-past' ? doubt.edgeHz : 0;
    expect(hz).toBeGreaterThanOrEqual(low);
    expect(hz).toBeLessThanOrEqual(high);
  });

  it.each([
    ['Original, at 44.1 kHz', '44100.wav', 'anull'],
    ['Original, at 96 kHz', '96000.wav', 'anull'],
    ['under a low-pass of 12 dB/octave at 8 kHz', '44100.wav', 'lowpass=f=8000'],
    ['with its treble turned down by 20 dB', '44100.wav', 'treble=g=-20:f=6000'],
    [
      'converted down with a steep filter under 22 kHz',
      '96000.wav',
      'aresample=44100:resampler=soxr:precision=28',
    ],
    ['very quiet', '44100.wav', 'volume=-60dB'],
  ])('is not meant by what is %s', async (_, source, filter) => {
    await ffmpeg('-i', at(source), '-af', filter, '-c:a', 'pcm_s24le', at('natural.wav'));
    expect(await pastOf('natural.wav')).toEqual([]);
  });
});

describe('a file that had a lower rate', () => {
  it.each([
    [44_100, 48_000],
    [44_100, 96_000],
    [48_000, 96_000],
    [48_000, 192_000],
    [96_000, 192_000],
  ])('is told: %i Hz made %i Hz', async (from, to) => {
    const filter = `aresample=${to}:resampler=soxr:precision=28`;
    await ffmpeg('-i', at(`${from}.wav`), '-af', filter, '-c:a', 'pcm_s24le', at('up.wav'));
    expect(await pastOf('up.wav')).toMatchObject([{ code: 'upsampled', fromHz: from, mirrored: false }]);
  });
});
