import { execFileSync } from 'node:child_process';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { AudioRefused } from '@oiseau/audio/pcm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fenced } from './fenced.js';
import { ffmpegInput } from './ffmpeg-input.js';
import { prepareMaster } from './master-intake.js';
import { openImage } from './open-image.js';
import { probeAudio } from './probe.js';

let folder: string;
/** Another user's recording, which no imported file may open. */
let secret: string;
const at = (name: string): string => join(folder, name);
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-input-'));
  secret = at('secret.flac');
  tone(secret, 2);
});
afterAll(() => rm(folder, { recursive: true }));

function tone(path: string, seconds: number, more: readonly string[] = []): void {
  const source = ['-f', 'lavfi', '-i', `sine=440:d=${seconds}`];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...source, '-ac', '2', ...more, path]);
}

/** An ID3v2.4 tag with nothing in it but room, and something behind it. */
const behindTag = (text: string): Buffer =>
  Buffer.concat([Buffer.from([0x49, 0x44, 0x33, 4, 0, 0, 0, 0, 0, 10]), Buffer.alloc(10), Buffer.from(text)]);

/** Lists that name another file, as FFmpeg would follow them if it could choose the form by itself. */
const LISTS: Readonly<Record<string, (path: string) => string>> = {
  'a playlist': (path) => `#EXTM3U\n#EXT-X-TARGETDURATION:10\n#EXTINF:10,\nfile://${path}\n#EXT-X-ENDLIST\n`,
  'a list to be joined': (path) => `ffconcat version 1.0\nfile '${path}'\n`,
  'an address': () => '#EXTM3U\nhttp://127.0.0.1:9/x.flac\n',
  'a session description': () => 'v=0\no=- 0 0 IN IP4 127.0.0.1\nm=audio 9 RTP/AVP 0\n',
};

describe('a file that names others', () => {
  it.each(Object.entries(LISTS))('opens none of them: %s, behind a tag', async (_, list) => {
    await writeFile(at('list.mp3'), behindTag(list(secret)));
    await expect(prepareMaster(at('list.mp3'), true, at('decoded.wav'))).rejects.toThrow(AudioRefused);
    await expect(probeAudio(at('list.mp3'))).rejects.toThrow();
    expect((await readdir(folder)).filter((name) => name.startsWith('decoded'))).toEqual([]);
  });

  it.each(Object.entries(LISTS))('opens none of them: %s, as the image of a cue sheet', async (_, list) => {
    await writeFile(at('image.mp3'), behindTag(list(secret)));
    await writeFile(at('image.cue'), 'FILE "image.mp3" WAVE\n  TRACK 01 AUDIO\n    INDEX 01 00:00:00\n');
    const { image, audio, close } = await openImage(at('image.cue'));
    await close();
    expect(audio).toBeNull();
    expect(image.problems.length).toBeGreaterThan(0);
  });

  it('is taken in where audio stands behind several tags', async () => {
    const audio = await readFile(secret);
    await writeFile(at('tagged.flac'), Buffer.concat([behindTag(''), behindTag(''), audio]));
    const { info, coding } = await prepareMaster(at('tagged.flac'), false, at('tagged.wav'));
    expect([info.length, coding?.codec]).toEqual([88_200, 'flac']);
  });
});

describe('FFmpeg', () => {
  it('gets nothing of our environment, limits, and no way to more rights', () => {
    process.env.OISEAU_SECRET = 'not for children';
    try {
      const run = (program: string, ...args: string[]): string => {
        const command = fenced(program, args);
        return execFileSync(command.file, command.args, { env: command.env, encoding: 'utf8' });
      };
      expect(
        run('env')
          .trim()
          .split('\n')
          .map((line) => line.split('=')[0])
          .sort(),
      ).toEqual(['LC_ALL', 'PATH']);
      const limits = run('cat', '/proc/self/limits');
      expect(limits).toMatch(/Max cpu time +14400 +14400/);
      expect(limits).toMatch(/Max open files +64 +64/);
      const status = run('cat', '/proc/self/status');
      expect(status).toMatch(/NoNewPrivs:\s*1/);
      expect(status).toMatch(/CapEff:\s*0+\n/);
    } finally {
      delete process.env.OISEAU_SECRET;
    }
  });
});

describe('a coded master', () => {
  it('is not damaged by a cover that can’t be read, but by audio that can’t', async () => {
    const picture = at('cover.png');
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-y',
      '-f',
      'lavfi',
      '-i',
      'color=red:s=64x64',
      '-frames:v',
      '1',
      picture,
    ]);
    const withCover = at('cover.flac');
    const maps = ['-map', '0:a', '-map', '1:v', '-c', 'copy', '-disposition:v', 'attached_pic'];
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', secret, '-i', picture, ...maps, withCover]);
    const good = await readFile(withCover);
    const start = good.indexOf(Buffer.from('\x89PNG', 'latin1'));
    const changed = (change: (bytes: Buffer) => void): Buffer => {
      const bytes = Buffer.from(good);
      change(bytes);
      return bytes;
    };
    const covers = {
      'of another kind': changed((bytes) => bytes.write('image/xyz', good.indexOf('image/png'), 'latin1')),
      'of no length': changed((bytes) => bytes.writeUInt32BE(0, start - 4)),
      'cut off': changed((bytes) => bytes.writeUInt32BE(9_999_999, start - 4)),
      'of rubbish': changed((bytes) => bytes.fill(0xaa, start, start + 100)),
    };
    for (const [kind, bytes] of Object.entries(covers)) {
      await writeFile(at('odd.flac'), bytes);
      const { info } = await prepareMaster(at('odd.flac'), false, at(`odd ${kind}.wav`));
      expect(info.length, kind).toBe(88_200);
    }
    await writeFile(
      at('odd.flac'),
      changed((bytes) => bytes.fill(0x55, bytes.length - 3000, bytes.length - 2900)),
    );
    await expect(prepareMaster(at('odd.flac'), false, at('damaged.wav'))).rejects.toMatchObject({
      reason: 'damaged-audio',
    });
  });

  it('asks for room before anything is decoded, and takes no more than it asked for', async () => {
    tone(at('long.flac'), 20);
    const asked: number[] = [];
    const full = new Error('no room');
    const room = (bytes: number): Promise<void> => {
      asked.push(bytes);
      return Promise.reject(full);
    };
    await expect(prepareMaster(at('long.flac'), false, at('long.wav'), { demandRoom: room })).rejects.toBe(
      full,
    );
    // 20 s of 16-bit stereo at 44.1 kHz, and a margin.
    expect(asked[0]).toBeGreaterThan(20 * 176_400);
    expect(asked[0]).toBeLessThan(2 * 20 * 176_400 + 1_000_000);
    expect((await readdir(folder)).filter((name) => name.startsWith('long.wav'))).toEqual([]);
    // STREAMINFO: the low 32 bits of the number of samples stand in bytes 22 to 25 of the file [RFC 9639 8.2].
    const lying = await readFile(at('long.flac'));
    lying.writeUInt32BE(44_100, 22);
    await writeFile(at('lying.flac'), lying);
    await expect(prepareMaster(at('lying.flac'), false, at('lying.wav'))).rejects.toMatchObject({
      reason: 'damaged-audio',
    });
    expect((await readdir(folder)).filter((name) => name.startsWith('lying.wav'))).toEqual([]);
  });
});

describe('an embedded picture of 144 million pixels', () => {
  it.each(['flac', 'mp3'] as const)('in %s is not decoded by what reads the audio', async (form) => {
    const folder = await mkdtemp(join(tmpdir(), 'oiseau-picture-'));
    try {
      // A PNG that says so in its head; a decoder that believed it would take half a gigabyte first.
      const picture = join(folder, 'cover.png');
      execFileSync('ffmpeg', [
        ...['-v', 'error', '-f', 'lavfi', '-i', 'color=c=gray:s=12000x12000', '-pix_fmt', 'monob'],
        ...['-frames:v', '1', picture],
      ]);
      const audio = join(folder, `audio.${form}`);
      execFileSync('ffmpeg', [
        ...['-v', 'error', '-f', 'lavfi', '-i', 'sine=440:d=2:r=44100', '-i', picture, '-ac', '2'],
        ...['-map', '0:a', '-map', '1:v', '-c:v', 'copy', '-disposition:v', 'attached_pic', audio],
      ]);
      const prepared = await prepareMaster(audio, false, join(folder, 'scratch'));
      // The picture wasn't decoded: its size is unknown.
      const show = ['-v', 'quiet', '-of', 'json', '-show_streams', ...ffmpegInput(audio, form)];
      const { file, args, env } = fenced('ffprobe', show);
      const shown = JSON.parse(execFileSync(file, args, { env }).toString()) as {
        streams: { codec_type: string; width?: number }[];
      };
      expect(shown.streams.find(({ codec_type }) => codec_type === 'video')?.width).toBe(0);
      expect(prepared.info).toMatchObject({ rate: 44_100, channels: 2 });
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  });
});
