// Rendering and measuring, against FFmpeg on the same files in the same run.
import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { ROOT } from './build.mjs';

export const MINUTES = 10;

/**
 * Runs a program to its end.
 * @returns wall time in seconds, peak resident memory in MB, and when its first line that matches `mark` came
 */
async function run(program, args, mark) {
  const started = performance.now();
  const child = spawn(program, args, { stdio: ['ignore', 'ignore', 'pipe'] });
  let peakKb = 0;
  let marked;
  let words = '';
  child.stderr.setEncoding('utf8').on('data', (text) => {
    words = (words + text).slice(-2000);
    if (mark && marked === undefined && text.includes(mark)) marked = (performance.now() - started) / 1000;
  });
  const poll = setInterval(async () => {
    const status = await readFile(`/proc/${child.pid}/status`, 'utf8').catch(() => '');
    peakKb = Math.max(peakKb, Number(/VmHWM:\s*(\d+)/.exec(status)?.[1] ?? 0));
  }, 50);
  const code = await new Promise((resolve) => child.once('close', resolve));
  clearInterval(poll);
  if (code !== 0) throw new Error(`${program} ended with ${code}: ${words.trim().split('\n').at(-1)}`);
  return { seconds: (performance.now() - started) / 1000, peakMb: Math.round(peakKb / 1024), marked };
}

const round = (value) => Math.round(value * 100) / 100;
const ffmpeg = (...args) => run('ffmpeg', ['-hide_banner', '-nostdin', '-v', 'error', '-y', ...args]);

/** A master of music-like noise: three tones that come and go over pink noise, no two seconds alike. */
function makeMaster(path, rate, seconds) {
  const tones = `anoisesrc=color=pink:amplitude=0.2:seed=7:r=${rate}:d=${seconds}[n];sine=220:r=${rate}:d=${seconds},tremolo=f=0.5:d=0.9[a];sine=3300:r=${rate}:d=${seconds},tremolo=f=0.3:d=0.9[b]`;
  return ffmpeg(
    '-filter_complex',
    `${tones};[n][a][b]amix=inputs=3,aformat=channel_layouts=stereo`,
    '-c:a',
    'pcm_s24le',
    '-ar',
    String(rate),
    path,
  );
}

async function album(path, tracks, deliverables = [{ name: 'image', kind: 'cue' }]) {
  await writeFile(
    path,
    JSON.stringify({ format: 'oiseau-album', version: 1, title: 'Bench', tracks, deliverables }),
  );
}

async function masterOf(folder, rate) {
  const master = join(folder, `${rate}.wav`);
  if (!existsSync(master)) await makeMaster(master, rate, MINUTES * 60);
  return master;
}

/** Everything that is measured of a master, against FFmpeg's loudness and true peak. */
export async function measuring(folder, rate) {
  const master = await masterOf(folder, rate);
  const ours = await run(process.execPath, [join(ROOT, 'dist/measure.mjs'), master]);
  const theirs = await ffmpeg('-i', master, '-af', 'ebur128=peak=true', '-f', 'null', '-');
  return {
    seconds: round(ours.seconds),
    peakMb: ours.peakMb,
    ffmpegSeconds: round(theirs.seconds),
    ratioToFfmpeg: round(ours.seconds / theirs.seconds),
  };
}

/** One master to a 16-bit disc image, by Oiseau (which also proves it) and by FFmpeg with its best and its usual resampler. */
export async function imageFrom(folder, rate) {
  const master = await masterOf(folder, rate);
  const file = join(folder, `${rate}.json`);
  await album(file, [{ master: `${rate}.wav`, title: 'Bench' }]);
  const ours = await run(
    process.execPath,
    [join(ROOT, 'cli/bin/oiseau.mjs'), 'render', file, '--out', join(folder, 'out')],
    'image: prove',
  );
  const convert = (options) =>
    ffmpeg(
      '-i',
      master,
      '-af',
      `aresample=44100:${options}:dither_method=triangular:osf=s16`,
      '-c:a',
      'pcm_s16le',
      join(folder, 'ffmpeg.wav'),
    );
  const best = await convert('resampler=soxr:precision=28');
  const usual = await convert('resampler=swr');
  return {
    oiseau: {
      renderSeconds: round(ours.marked ?? ours.seconds),
      withProofSeconds: round(ours.seconds),
      peakMb: ours.peakMb,
      timesRealTime: round((MINUTES * 60) / (ours.marked ?? ours.seconds)),
    },
    ffmpegBest: { seconds: round(best.seconds), peakMb: best.peakMb },
    ffmpegUsual: { seconds: round(usual.seconds), peakMb: usual.peakMb },
    ratioToFfmpegBest: round((ours.marked ?? ours.seconds) / best.seconds),
    ratioToFfmpegUsual: round((ours.marked ?? ours.seconds) / usual.seconds),
  };
}

/**
 * One sitting: twelve tracks to a disc image for a plant and to a FLAC set, side by side on two cores as two workers do it, each proved;
 * against two of FFmpeg at once, one resampling and dithering to 16 bit, one packing FLAC.
 */
export async function sitting(folder, rate) {
  const master = await masterOf(folder, rate);
  const file = join(folder, 'sitting.json');
  const each = (MINUTES * 60) / 12;
  await album(
    file,
    Array.from({ length: 12 }, (_, i) => ({
      ...{ master: `${rate}.wav`, title: `Track ${i + 1}`, in: i * each, out: (i + 1) * each },
      gapBefore: i === 0 ? 2 : 0,
    })),
    [
      { name: 'plant', kind: 'ddp' },
      { name: 'shops', kind: 'tracks', format: 'flac', bits: 24 },
    ],
  );
  const one = (name) =>
    run(process.execPath, [
      ...[join(ROOT, 'cli/bin/oiseau.mjs'), 'render', file, '--out', join(folder, 'sitting'), '--only', name],
    ]);
  const begun = performance.now();
  const ours = await Promise.all([one('plant'), one('shops')]);
  const seconds = (performance.now() - begun) / 1000;
  const begunTheirs = performance.now();
  const filter = 'aresample=44100:resampler=soxr:precision=28:dither_method=triangular:osf=s16';
  await Promise.all([
    ffmpeg('-i', master, '-af', filter, '-c:a', 'pcm_s16le', join(folder, 'plant.wav')),
    ffmpeg('-i', master, '-c:a', 'flac', join(folder, 'shops.flac')),
  ]);
  const theirs = (performance.now() - begunTheirs) / 1000;
  return {
    seconds: round(seconds),
    peakMb: Math.max(...ours.map(({ peakMb }) => peakMb)),
    ffmpegSeconds: round(theirs),
    ratioToFfmpeg: round(seconds / theirs),
  };
}

/** A full disc of 99 tracks: memory must not grow with the length of the album. */
export async function fullDisc(folder) {
  await makeMaster(join(folder, 'short.wav'), 44_100, 46);
  const file = join(folder, 'full.json');
  await album(
    file,
    Array.from({ length: 99 }, (_, i) => ({ master: 'short.wav', title: `Track ${i + 1}` })),
  );
  const ours = await run(
    process.execPath,
    [join(ROOT, 'cli/bin/oiseau.mjs'), 'render', file, '--out', join(folder, 'full')],
    'image: prove',
  );
  return {
    tracks: 99,
    minutes: round((99 * 48) / 60),
    renderSeconds: round(ours.marked ?? ours.seconds),
    withProofSeconds: round(ours.seconds),
    peakMb: ours.peakMb,
  };
}
