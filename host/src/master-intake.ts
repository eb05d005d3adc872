import { rm } from 'node:fs/promises';
import {
  AudioRefused,
  demandChannels,
  demandFinite,
  demandRate,
  demandStereo,
  examineMaster,
  fieldsFromTags,
  openWav,
  PcmFileSource,
  readEmbeddedText,
  type EmbeddedText,
  type PcmInfo,
  type WordFormat,
} from '@oiseau/core';
import { FileByteSource } from './file-source.js';
import { CodecError, fileArgument, startFfmpeg } from './ffmpeg-process.js';
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
export async function prepareMaster(path: string, mono: boolean, scratch: string): Promise<PreparedMaster> {
  const bytes = await FileByteSource.open(path);
  try {
    const form = await examineMaster(bytes, mono);
    if (form.kind === 'coded') return await prepareCoded(path, mono, scratch);
    await demandFinite(new PcmFileSource(form.info, bytes));
    const text = await readEmbeddedText(bytes, form.info);
    return { info: form.info, coding: null, text, decoded: null, cover: null };
  } finally {
    await bytes.close();
  }
}

async function prepareCoded(path: string, mono: boolean, scratch: string): Promise<PreparedMaster> {
  const probed = await probeAudio(path).catch((cause: unknown) => {
    throw new AudioRefused('not-audio', 'The file holds no audio that can be decoded.', { cause });
  });
  demandChannels(probed.channels);
  demandRate(probed.rate);
  demandStereo(probed.channels, mono);
  const cover = probed.hasPicture ? `${scratch}.cover` : null;
  try {
    await decodeTo(scratch, path, probed);
    const decoded = await FileByteSource.open(scratch);
    try {
      const { info } = await openWav(decoded);
      demandWhole(info, probed);
      return {
        info,
        coding: codingOf(probed),
        text: textOf(probed, info),
        decoded: scratch,
        cover: cover && (await extractCover(cover, path)),
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

const codingOf = ({ codec, bitrate }: ProbedAudio): SourceCoding => ({
  codec,
  lossy: !LOSSLESS.includes(codec),
  bitrate,
});

/** The decoder's own check sums count: a damaged lossless file is refused, not mended by guessing. */
async function decodeTo(target: string, path: string, probed: ProbedAudio): Promise<void> {
  const strict = codingOf(probed).lossy ? [] : ['-xerror', '-err_detect', 'crccheck+explode'];
  const { child, done } = startFfmpeg(
    [
      ...strict,
      ...['-i', fileArgument(path), '-map', '0:a:0', '-map_metadata', '-1'],
      ...['-c:a', WAV_CODEC[probed.format], '-rf64', 'auto', '-fflags', '+bitexact', '-f', 'wav'],
      ...['-n', fileArgument(target)],
    ],
    'decode the file',
  );
  child.stdin?.end();
  child.stdout?.resume();
  try {
    await done;
  } catch (cause) {
    if (!(cause instanceof CodecError)) throw cause;
    throw new AudioRefused(
      'damaged-audio',
      'The file is damaged: its audio could not be decoded to the end.',
      {
        cause,
      },
    );
  }
}

/** An MP3 file without a header of its own tells its length only by guessing, so its word is not held against it. */
function demandWhole(info: PcmInfo, { codec, seconds }: ProbedAudio): void {
  const found = info.length / info.rate;
  if (codec === 'mp3' || seconds === null || found >= seconds * 0.999 - PADDING_SECONDS) return;
  throw new AudioRefused(
    'truncated',
    `The file is truncated: it promises ${seconds.toFixed(2)} s of audio and ${found.toFixed(2)} s are there.`,
  );
}

function textOf({ tags, chapters }: ProbedAudio, { rate, length }: PcmInfo): EmbeddedText {
  const cues = chapters
    .map(({ start, title }) => ({ at: Math.round(start * rate), name: title }))
    .filter(({ at }) => at < length);
  return { fields: fieldsFromTags(tags), cues };
}

/** The first picture in the file, byte for byte; null when it can't be had: a cover is no reason to refuse a master. */
async function extractCover(target: string, path: string): Promise<string | null> {
  const { child, done } = startFfmpeg(
    [
      '-i',
      fileArgument(path),
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
    'take the cover out',
  );
  child.stdin?.end();
  child.stdout?.resume();
  return done.then(
    () => target,
    () => null,
  );
}
