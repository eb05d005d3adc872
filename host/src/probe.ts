import { msg } from '@oiseau/messages';
import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { AudioRefused, type WordFormat } from '@oiseau/audio/pcm';
import * as z from 'zod';
import { fenced, ProgramMissing } from './fenced.js';
import { ffmpegInput, formOfFile, type InputForm } from './ffmpeg-input.js';
import { CodecError } from './ffmpeg-process.js';

/** The most that a file may say of itself: more would hold up its readers. */
const MOST_WORDS = 4_000_000;
const PATIENCE_MS = 60_000;
/** Processor time that reading a file's head may take; only tags by the hundred thousand take it longer. */
const PROBE_CPU_SECONDS = 10;

const tags = z.record(z.string(), z.string()).default({});
const probe = z.object({
  streams: z.array(
    z.object({
      codec_type: z.string().optional(),
      codec_name: z.string().default('unknown'),
      sample_rate: z.coerce.number().default(0),
      channels: z.int().default(0),
      bits_per_raw_sample: z.coerce.number().default(0),
      bit_rate: z.coerce.number().optional(),
      duration: z.coerce.number().optional(),
      tags,
    }),
  ),
  format: z.object({ bit_rate: z.coerce.number().optional(), tags }),
  chapters: z.array(z.object({ start_time: z.coerce.number(), tags })).default([]),
});

/** What a file says of its audio before it is decoded. */
export interface ProbedAudio {
  /** As its first bytes tell. */
  readonly form: InputForm;
  readonly rate: number;
  readonly channels: number;
  /** FFmpeg's name of the coding. */
  readonly codec: string;
  /** Words that hold what a decoder gives. */
  readonly format: WordFormat;
  /** Bits a second, where the file tells. */
  readonly bitrate: number | null;
  /** As the container declares it, in seconds; MP3 and bare AAC have it guessed. */
  readonly seconds: number | null;
  /** Keys in capitals. */
  readonly tags: Readonly<Record<string, string>>;
  /** Marks in seconds. */
  readonly chapters: readonly { readonly start: number; readonly title: string }[];
  readonly hasPicture: boolean;
}

/** Whether a run ended because the file says too much of itself: more than is read, or than there is time for. */
function isTooMuch(cause: unknown): boolean {
  if (!(cause instanceof Error)) return false;
  const { code, signal } = cause as { code?: unknown; signal?: unknown };
  return code === 'ERR_CHILD_PROCESS_STDIO_MAXBUFFER' || signal === 'SIGXCPU';
}

/** @throws CodecError when the file holds no audio that FFmpeg can read */
export async function probeAudio(path: string): Promise<ProbedAudio> {
  let form: InputForm;
  let found: z.output<typeof probe>;
  try {
    form = await formOfFile(path);
    const show = ['-show_streams', '-show_format', '-show_chapters'];
    const { file, args, env } = fenced(
      'ffprobe',
      [...['-v', 'error', '-of', 'json', ...show], ...ffmpegInput(path, form)],
      PROBE_CPU_SECONDS,
    );
    const { stdout } = await promisify(execFile)(file, args, {
      env,
      maxBuffer: MOST_WORDS,
      timeout: PATIENCE_MS,
    });
    found = probe.parse(JSON.parse(stdout));
  } catch (cause) {
    if (cause instanceof ProgramMissing) throw cause;
    if (isTooMuch(cause))
      throw new AudioRefused(
        'too-many-tags',
        msg('The file has too many tags. Remove some and add it again.'),
        {
          cause,
        },
      );
    const ended = cause instanceof Error && 'signal' in cause && cause.signal !== null;
    throw new CodecError(
      ended
        ? msg('FFmpeg was stopped before it had read the file.')
        : msg('FFmpeg can’t read this file as audio.'),
      { code: ended ? 'ended' : 'codec', cause },
    );
  }
  const audio = found.streams.find(({ codec_type }) => codec_type === 'audio');
  if (!audio || !(audio.sample_rate > 0))
    throw new CodecError(msg('The file has no audio that FFmpeg can read.'));
  const bits = audio.bits_per_raw_sample;
  return {
    form,
    rate: audio.sample_rate,
    channels: audio.channels,
    codec: audio.codec_name,
    format: bits === 16 ? 'int16' : bits === 24 ? 'int24' : bits === 32 ? 'int32' : 'float32',
    bitrate: audio.bit_rate ?? found.format.bit_rate ?? null,
    seconds: audio.duration ?? null,
    tags: Object.fromEntries(
      Object.entries({ ...audio.tags, ...found.format.tags }).map(([name, value]) => [
        name.toUpperCase(),
        value,
      ]),
    ),
    chapters: found.chapters.map(({ start_time, tags: of }) => ({
      start: start_time,
      title: of.title ?? '',
    })),
    hasPicture: found.streams.some(({ codec_type }) => codec_type === 'video'),
  };
}
