import { once } from 'node:events';
import type { FileSink, TagSet } from '@oiseau/core';
import { CodecError, fileArgument, RAW, startFfmpeg } from './ffmpeg-process.js';

/** Starts a FLAC encoder fed with interleaved little-endian words. Same words and tags give the same bytes. */
export async function encodeFlac(
  path: string,
  audio: { rate: number; format: 'int16' | 'int24' },
  tags: TagSet,
): Promise<FileSink> {
  const metadata = Object.entries(tags).flatMap(([name, value]) => ['-metadata', `${name}=${value}`]);
  const words =
    audio.format === 'int24' ? ['-sample_fmt', 's32', '-bits_per_raw_sample', '24'] : ['-sample_fmt', 's16'];
  const { child, done } = startFfmpeg(
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
