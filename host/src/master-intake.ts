import { figure, msg } from '@oiseau/messages';
import { access, rm, stat, writeFile } from 'node:fs/promises';
import pLimit from 'p-limit';
import {
  AudioRefused,
  boundedText,
  demandChannels,
  demandFinite,
  demandRate,
  demandStereo,
  examineMaster,
  fieldsFromTags,
  openWav,
  PcmFileSource,
  readEmbeddedWords,
  type EmbeddedText,
  type PcmInfo,
  WORD_BYTES,
  type WordFormat,
} from '@oiseau/audio/pcm';
import { MOST_COVER_BYTES } from './cover.js';
import { FileByteSource } from './file-source.js';
import { ffmpegInput, fileArgument, type InputForm } from './ffmpeg-input.js';
import { CodecError, startFfmpeg } from './ffmpeg-process.js';
import { probeAudio, type ProbedAudio } from './probe.js';

/** How a master that is no plain PCM was coded. */
export interface SourceCoding {
  /** `flac`, `alac`, `mp3`, `aac`, `opus`, `vorbis` … */
  readonly codec: string;
  /** A lossy file is no master: what the encoder took away does not come back. */
  readonly lossy: boolean;
  /** Bits a second, where the file tells. */
  readonly bitrate: number | null;
}

/** A file that can be a master, ready to be read at any place. */
export interface PreparedMaster {
  /** The words in `decoded`, or else in the file itself. */
  readonly info: PcmInfo;
  /** null: plain PCM. */
  readonly coding: SourceCoding | null;
  readonly text: EmbeddedText;
  /** A WAV file with the decoded audio, at `scratch`; null where the file itself is PCM. */
  readonly decoded: string | null;
  /** A picture that lay in the file, written beside `scratch`; null for none. */
  readonly cover: string | null;
}

/** The longest master: a day. */
const LONGEST_SECONDS = 24 * 3600;
/** Bits a second: what speech gets that must be small. */
const LOWEST_BITRATE = 24_000;
/** Decoders at work at the same time: each takes a core, and room on the disk. */
const decoding = pLimit(2);

const LOSSLESS = ['flac', 'alac', 'wavpack', 'tta', 'ape'];
/** What a lossy file may be shorter than its container says, in seconds: padding that its decoder takes off. */
const PADDING_SECONDS = 0.25;
const WAV_CODEC: Record<WordFormat, string> = {
  int16: 'pcm_s16le',
  int24: 'pcm_s24le',
  int32: 'pcm_s32le',
  float32: 'pcm_f32le',
  float64: 'pcm_f64le',
};

/**
 * Judges a file and makes it readable at any place: PCM stays as it lies there, a coded file is decoded through FFmpeg into
 * a WAV file of the words it holds (float for lossy codings). Leaves nothing behind when it is refused.
 * @param mono whether the person agreed that one channel is put on both sides
 * @param scratch where decoded audio may be written; must not exist
 * @throws AudioRefused with the reason
 */
export async function prepareMaster(
  path: string,
  mono: boolean,
  scratch: string,
  options: PrepareOptions = {},
): Promise<PreparedMaster> {
  const bytes = await FileByteSource.open(path);
  try {
    const form = await examineMaster(bytes, mono);
    if (form.kind === 'coded') return await decoding(() => prepareCoded(path, mono, scratch, options));
    demandLength(form.info.length / form.info.rate);
    await demandFinite(new PcmFileSource(form.info, bytes));
    const { text, picture } = await readEmbeddedWords(bytes, form.info);
    const cover = picture && picture.bytes.length <= MOST_COVER_BYTES ? `${scratch}.cover` : null;
    if (cover && picture) await writeFile(cover, picture.bytes);
    return { info: form.info, coding: null, text, decoded: null, cover };
  } finally {
    await bytes.close();
  }
}

export interface PrepareOptions {
  /** Called with the size of the decoded audio in bytes before it is written. @throws the error of the disk check */
  readonly demandRoom?: (bytes: number) => Promise<void>;
  /** Is told again and again how much is decoded, in seconds and as a share; it may throw to end it. */
  readonly decoded?: ((seconds: number, share: number) => Promise<void>) | undefined;
}

/** @throws AudioRefused for more than a day */
function demandLength(seconds: number): void {
  if (seconds > LONGEST_SECONDS)
    throw new AudioRefused('too-long', msg('The file is longer than a day. Cut it before adding it.'));
}

/** Bytes that decoded audio may take: what its length asks for and a little more; where that is a guess, what the lowest bit rate would make of the file. */
function mostBytes({ form, rate, format, channels, seconds }: ProbedAudio, fileBytes: number): number {
  const guessed = seconds === null || form === 'mp3' || form === 'aac';
  const length = guessed ? (8 * fileBytes) / LOWEST_BITRATE + 60 : seconds * 1.05 + 10;
  return Math.ceil(Math.min(LONGEST_SECONDS, length) * rate * channels * WORD_BYTES[format]) + 1_000_000;
}

async function prepareCoded(
  path: string,
  mono: boolean,
  scratch: string,
  { demandRoom, decoded: tell }: PrepareOptions,
): Promise<PreparedMaster> {
  const probed = await probeAudio(path).catch(async (cause: unknown) => {
    if (!(cause instanceof CodecError) || cause.code !== 'codec') throw cause;
    await demandThere(path, cause);
    throw new AudioRefused('not-audio', msg('The file has no audio that can be decoded.'), { cause });
  });
  demandChannels(probed.channels);
  demandRate(probed.rate);
  demandStereo(probed.channels, mono);
  demandLength(probed.seconds ?? 0);
  const most = mostBytes(probed, (await stat(path)).size);
  await demandRoom?.(most);
  const cover = probed.hasPicture ? `${scratch}.cover` : null;
  try {
    await decodeTo(scratch, path, probed, most, tell);
    const decoded = await FileByteSource.open(scratch);
    try {
      const { info } = await openWav(decoded);
      demandLength(info.length / info.rate);
      // A file that goes on beyond what it says of itself was cut off there, not decoded to its end.
      if (decoded.size >= most)
        throw new AudioRefused(
          'damaged-audio',
          msg('The file is damaged: it contains more audio than its header states.'),
        );
      demandWhole(info, probed);
      return {
        info,
        coding: codingOf(probed),
        text: textOf(probed, info),
        decoded: scratch,
        cover: cover && (await extractCover(cover, path, probed.form)),
      };
    } finally {
      await decoded.close();
    }
  } catch (error) {
    await rm(scratch, { force: true });
    if (cover) await rm(cover, { force: true });
    throw error;
  }
}

export const codingOf = ({ codec, bitrate }: Pick<ProbedAudio, 'codec' | 'bitrate'>): SourceCoding => ({
  codec,
  lossy: !LOSSLESS.includes(codec),
  bitrate,
});

/** The decoder's own check sums count: a damaged lossless file is refused, not mended by guessing. */
async function decodeTo(
  target: string,
  path: string,
  probed: ProbedAudio,
  most: number,
  tell: PrepareOptions['decoded'],
): Promise<void> {
  // Of the audio alone: a cover that can't be read is no reason to refuse a master.
  const strict = codingOf(probed).lossy ? [] : ['-xerror', '-err_detect:a', 'crccheck+explode'];
  const { child, done } = startFfmpeg(
    [
      ...strict,
      ...ffmpegInput(path, probed.form),
      ...['-map', '0:a:0', '-map_metadata', '-1', '-fs', String(most)],
      ...['-c:a', WAV_CODEC[probed.format], '-rf64', 'auto', '-fflags', '+bitexact', '-f', 'wav'],
      ...['-progress', 'pipe:1', '-stats_period', '0.2'],
      ...['-n', fileArgument(target)],
    ],
    'decode the file',
  );
  child.stdin?.end();
  try {
    for await (const chunk of child.stdout as AsyncIterable<Buffer>) {
      // A line is in one piece: they come whole, a few times a second.
      const told = /out_time_us=(\d+)/.exec(chunk.toString('latin1'))?.[1];
      if (told === undefined || !tell) continue;
      const seconds = Number(told) / 1e6;
      await tell(seconds, Math.min(1, seconds / Math.max(1, probed.seconds ?? Infinity)));
    }
    await done;
  } catch (cause) {
    child.kill('SIGKILL');
    if (!(cause instanceof CodecError) || cause.code !== 'codec') throw cause;
    await demandThere(path, cause);
    throw new AudioRefused(
      'damaged-audio',
      msg('The file is damaged: its audio could not be decoded to the end.'),
      {
        cause,
      },
    );
  }
}

/** A file removed while it was being read is not damaged. @throws CodecError */
async function demandThere(path: string, cause: CodecError): Promise<void> {
  await access(path).catch(() => {
    throw new CodecError(msg('The file was removed while it was being read.'), { code: 'ended', cause });
  });
}

/** An MP3 file without a header of its own tells its length only by guessing, so its word is not held against it. */
function demandWhole(info: PcmInfo, { codec, seconds }: ProbedAudio): void {
  const found = info.length / info.rate;
  if (codec === 'mp3' || seconds === null || found >= seconds * 0.999 - PADDING_SECONDS) return;
  throw new AudioRefused(
    'truncated',
    msg('The file is truncated: its header announces {value} s of audio, {value2} s are present.', {
      value: figure(seconds.toFixed(2)),
      value2: figure(found.toFixed(2)),
    }),
  );
}

function textOf({ tags, chapters }: ProbedAudio, { rate, length }: PcmInfo): EmbeddedText {
  const cues = chapters
    .map(({ start, title }) => ({ at: Math.round(start * rate), name: title }))
    .filter(({ at }) => at >= 0 && at < length);
  return boundedText({ fields: fieldsFromTags(tags), cues });
}

/** The first picture in the file, byte for byte; null when it can't be had: a cover is no reason to refuse a master. */
async function extractCover(target: string, path: string, form: InputForm): Promise<string | null> {
  const { child, done } = startFfmpeg(
    [
      ...ffmpegInput(path, form),
      ...['-fs', String(MOST_COVER_BYTES)],
      '-map',
      '0:v:0',
      '-c',
      'copy',
      '-frames:v',
      '1',
      '-f',
      'image2',
      '-update',
      '1',
      '-n',
      fileArgument(target),
    ],
    'extract the cover',
  );
  child.stdin?.end();
  child.stdout?.resume();
  return done.then(
    () => target,
    () => null,
  );
}
