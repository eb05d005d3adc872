// Rendering and measuring, against FFmpeg on the same files in the same run.
import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { copyFile, mkdir, readFile, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
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
export function makeMaster(path, rate, seconds, word = 'pcm_s24le') {
  const tones = `anoisesrc=color=pink:amplitude=0.2:seed=7:r=${rate}:d=${seconds}[n];sine=220:r=${rate}:d=${seconds},tremolo=f=0.5:d=0.9[a];sine=3300:r=${rate}:d=${seconds},tremolo=f=0.3:d=0.9[b]`;
  return ffmpeg(
    '-filter_complex',
    `${tones};[n][a][b]amix=inputs=3,aformat=channel_layouts=stereo`,
    '-c:a',
    word,
    '-ar',
    String(rate),
    path,
  );
}

/** Renders an album file by the command line: seconds until it was written, and until it was proved, with the memory it took. */
export async function renderAlone(file, out) {
  const ours = await run(
    process.execPath,
    [join(ROOT, 'cli/bin/oiseau.mjs'), 'render', file, '--out', out],
    'image: prove',
  );
  return {
    renderSeconds: round(ours.marked ?? ours.seconds),
    withProofSeconds: round(ours.seconds),
    peakMb: ours.peakMb,
  };
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

/** Six bands, a compressor and a limiter that works, at 96 kHz: by as many threads as a render takes, and by FFmpeg, which takes one. */
export async function treating(folder) {
  const master = await masterOf(folder, 96_000);
  const ours = await run(process.execPath, [join(ROOT, 'dist/treat.mjs'), master]);
  const bands = [110, 320, 1800, 5200, 9000, 12_000].map((hz) => `equalizer=f=${hz}:t=q:w=1:g=1.5`);
  const chain = [
    ...bands,
    'acompressor=threshold=0.063:ratio=2:attack=20:release=200:makeup=1.26',
    'alimiter=level_in=1.58:limit=0.891:attack=5:release=80:level=0',
  ].join(',');
  const theirs = await ffmpeg('-i', master, '-af', chain, '-f', 'null', '-');
  return {
    seconds: round(ours.seconds),
    peakMb: ours.peakMb,
    timesRealTime: round((MINUTES * 60) / ours.seconds),
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

const SITTING_TRACKS = 12;
const SITTING_MINUTES = 60;

/** Twelve masters that fill an hour: one made, the others copies of it. */
async function sittingMasters(folder, rate) {
  const paths = Array.from({ length: SITTING_TRACKS }, (_, i) =>
    join(folder, `sitting ${rate} ${i + 1}.wav`),
  );
  if (existsSync(paths.at(-1))) return paths;
  await makeMaster(paths[0], rate, (SITTING_MINUTES * 60) / SITTING_TRACKS);
  for (const path of paths.slice(1)) await copyFile(paths[0], path);
  return paths;
}

/** Seconds that some work takes. */
async function timed(work) {
  const begun = performance.now();
  await work();
  return (performance.now() - begun) / 1000;
}

/** Renders deliverables side by side, as two workers do; also the seconds until the last of them was written and only its proof was left. */
async function renderSideBySide(file, out, names) {
  const begun = performance.now();
  const runs = await Promise.all(
    names.map((name) =>
      run(
        process.execPath,
        [join(ROOT, 'cli/bin/oiseau.mjs'), 'render', file, '--out', out, '--only', name],
        `${name}: prove`,
      ),
    ),
  );
  return {
    seconds: round((performance.now() - begun) / 1000),
    writtenSeconds: round(Math.max(...runs.map(({ seconds, marked }) => marked ?? seconds))),
    peakMb: Math.max(...runs.map(({ peakMb }) => peakMb)),
  };
}

/**
 * One sitting: an hour of twelve masters to a disc image for a plant and to a FLAC set, side by side on two cores, each proved. Against
 * FFmpeg at the same audio work: one resampling and dithering to 16 bit while another packs FLAC; then, as a proof does, both
 * read back for loudness and true peak.
 */
export async function sitting(folder, rate) {
  const masters = await sittingMasters(folder, rate);
  const file = join(folder, 'sitting.json');
  const tracks = masters.map((master, i) => ({
    master: basename(master),
    title: `Track ${i + 1}`,
    gapBefore: i === 0 ? 2 : 0,
  }));
  await album(file, tracks, [
    { name: 'plant', kind: 'ddp' },
    { name: 'shops', kind: 'tracks', format: 'flac', bits: 24 },
  ]);
  const oiseau = await renderSideBySide(file, join(folder, 'sitting'), ['plant', 'shops']);

  const list = join(folder, 'sitting.txt');
  await writeFile(list, masters.map((master) => `file '${master}'\n`).join(''));
  const image = join(folder, 'plant.wav');
  const packed = masters.map((_, i) => join(folder, `shops ${i + 1}.flac`));
  const filter = 'aresample=44100:resampler=soxr:precision=28:dither_method=triangular:osf=s16';
  const written = await timed(() =>
    Promise.all([
      ffmpeg('-f', 'concat', '-safe', '0', '-i', list, '-af', filter, '-c:a', 'pcm_s16le', image),
      inTurn(masters, (master, i) => ffmpeg('-i', master, '-c:a', 'flac', packed[i])),
    ]),
  );
  const measure = (path) => ffmpeg('-i', path, '-af', 'ebur128=peak=true', '-f', 'null', '-');
  const readBack = await timed(() => Promise.all([measure(image), inTurn(packed, measure)]));
  return {
    minutes: SITTING_MINUTES,
    oiseau,
    ffmpeg: { writtenSeconds: round(written), seconds: round(written + readBack) },
    ratio: round(oiseau.seconds / (written + readBack)),
    ratioWritten: round(oiseau.writtenSeconds / written),
    ratioProvedToWritten: round(oiseau.seconds / written),
  };
}

async function inTurn(items, work) {
  for (const [i, item] of items.entries()) await work(item, i);
}

/** An hour of 44.1 kHz, 24 bit to a disc image, proved, against copying the masters and taking the checksums of the copies. */
export async function againstCopying(folder) {
  const masters = await sittingMasters(folder, 44_100);
  const file = join(folder, 'copying.json');
  await album(
    file,
    masters.map((master, i) => ({
      master: basename(master),
      title: `Track ${i + 1}`,
      gapBefore: i === 0 ? 2 : 0,
    })),
  );
  const oiseau = await renderSideBySide(file, join(folder, 'copying'), ['image']);
  const copies = join(folder, 'copies');
  const seconds = await timed(async () => {
    await mkdir(copies, { recursive: true });
    await run('cp', [...masters, copies]);
    await run(
      'sha256sum',
      masters.map((master) => join(copies, basename(master))),
    );
  });
  return {
    minutes: SITTING_MINUTES,
    oiseau,
    copySeconds: round(seconds),
    ratio: round(oiseau.seconds / seconds),
    ratioWritten: round(oiseau.writtenSeconds / seconds),
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
  return {
    tracks: 99,
    minutes: round((99 * 48) / 60),
    ...(await renderAlone(file, join(folder, 'full'))),
  };
}
