import { execFile, spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { promisify } from 'node:util';
import {
  decodeWords,
  WORD_BYTES,
  type AudioStream,
  type Block,
  type FileSink,
  type TagSet,
  type WordFormat,
} from '@oiseau/core';

/** FFmpeg did not do what it was asked; the message carries its own last words. */
export class CodecError extends Error {
  override readonly name = 'CodecError';
}

/** Raw sample formats as FFmpeg names them. */
const RAW = {
  int16: 's16le',
  int24: 's24le',
  int32: 's32le',
  float32: 'f32le',
  float64: 'f64le',
} as const satisfies Record<WordFormat, string>;

/** Paths go in as `file:` URLs, so that none is taken for an option or a protocol. */
const fileArgument = (path: string): string => `file:${path}`;

interface Running {
  readonly child: ChildProcess;
  /** Resolves when it ended well; rejects with a CodecError otherwise. */
  readonly done: Promise<void>;
}

function start(args: readonly string[], what: string): Running {
  const child = spawn('ffmpeg', ['-hide_banner', '-nostdin', '-v', 'error', ...args], {
    stdio: ['pipe', 'pipe', 'pipe'],
  });
  let words = '';
  child.stderr.setEncoding('utf8').on('data', (text: string) => (words = (words + text).slice(-2000)));
  // A writer that goes on after the process has died gets EPIPE; the exit status tells the real reason.
  child.stdin.on('error', () => undefined);
  const done = new Promise<void>((resolve, reject) => {
    child.once('error', (cause) =>
      reject(new CodecError(`FFmpeg could not be started to ${what}: ${cause.message}`, { cause })),
    );
    child.once('close', (code, signal) => {
      if (code === 0) resolve();
      else
        reject(
          new CodecError(
            `FFmpeg failed to ${what} (${signal ?? `status ${code}`}): ${words.trim().split('\n').at(-1) ?? ''}`,
          ),
        );
    });
  });
  done.catch(() => undefined);
  return { child, done };
}

/** Starts a FLAC encoder fed with interleaved little-endian words. Same words and tags give the same bytes. */
export async function encodeFlac(
  path: string,
  audio: { rate: number; format: 'int16' | 'int24' },
  tags: TagSet,
): Promise<FileSink> {
  const metadata = Object.entries(tags).flatMap(([name, value]) => ['-metadata', `${name}=${value}`]);
  const words =
    audio.format === 'int24' ? ['-sample_fmt', 's32', '-bits_per_raw_sample', '24'] : ['-sample_fmt', 's16'];
  const { child, done } = start(
    [
      ...['-f', RAW[audio.format], '-ar', String(audio.rate), '-ac', '2', '-i', 'pipe:0'],
      ...['-map_metadata', '-1', ...metadata],
      ...[
        '-c:a',
        'flac',
        ...words,
        '-fflags',
        '+bitexact',
        '-flags:a',
        '+bitexact',
        '-n',
        '-f',
        'flac',
        fileArgument(path),
      ],
    ],
    'write FLAC',
  );
  const { stdin } = child;
  if (!stdin) throw new CodecError('FFmpeg has no input.');
  return {
    async write(bytes) {
      if (!stdin.write(bytes))
        await Promise.race([
          once(stdin, 'drain'),
          done.then(() => Promise.reject(new CodecError('FFmpeg ended before the audio did.'))),
        ]);
    },
    async close() {
      stdin.end();
      await done;
    },
    abort() {
      child.kill('SIGKILL');
    },
  };
}

interface Probe {
  streams?: {
    codec_type?: string;
    codec_name?: string;
    sample_rate?: string;
    channels?: number;
    bits_per_raw_sample?: string;
  }[];
  format?: { tags?: Record<string, string> };
}

/** Opens a coded audio file to be heard from the start. @throws CodecError when it holds no audio FFmpeg can read */
export async function decodeFile(
  path: string,
): Promise<AudioStream & { readonly channels: number; readonly codec: string }> {
  let probe: Probe;
  try {
    const { stdout } = await promisify(execFile)('ffprobe', [
      '-v',
      'error',
      '-of',
      'json',
      '-show_streams',
      '-show_format',
      '-i',
      fileArgument(path),
    ]);
    probe = JSON.parse(stdout) as Probe;
  } catch (cause) {
    throw new CodecError('This is no audio file that FFmpeg can read.', { cause });
  }
  const audio = probe.streams?.find(({ codec_type }) => codec_type === 'audio');
  if (!(Number(audio?.sample_rate) > 0))
    throw new CodecError('The file holds no audio that FFmpeg can read.');
  const bits = Number(audio?.bits_per_raw_sample ?? 0);
  const format: WordFormat =
    bits === 16 ? 'int16' : bits === 24 ? 'int24' : bits === 32 ? 'int32' : 'float32';
  const tags = Object.fromEntries(
    Object.entries(probe.format?.tags ?? {}).map(([name, value]) => [name.toUpperCase(), value]),
  );
  return {
    rate: Number(audio?.sample_rate),
    format,
    tags,
    channels: audio?.channels ?? 2,
    codec: audio?.codec_name ?? 'unknown',
    blocks: () => decodedBlocks(path, format, audio?.channels ?? 2),
  };
}

/** Decodes to raw words through a pipe. A read may end inside a sample: what is left waits for the next. */
async function* decodedBlocks(path: string, format: WordFormat, channels: number): AsyncGenerator<Block> {
  const { child, done } = start(
    ['-i', fileArgument(path), '-map', '0:a:0', '-f', RAW[format], 'pipe:1'],
    'read the file',
  );
  const step = WORD_BYTES[format] * channels;
  try {
    let rest: Buffer = Buffer.alloc(0);
    for await (const chunk of child.stdout as AsyncIterable<Buffer>) {
      const bytes = rest.length > 0 ? Buffer.concat([rest, chunk]) : chunk;
      const whole = bytes.length - (bytes.length % step);
      rest = bytes.subarray(whole);
      if (whole > 0) yield decodeWords(bytes.subarray(0, whole), format, channels);
    }
    await done;
  } finally {
    child.kill('SIGKILL');
  }
}
