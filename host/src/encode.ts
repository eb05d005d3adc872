import { once } from 'node:events';
import { open } from 'node:fs/promises';
import { MP3_FRAME, setMp3Length } from '@oiseau/codings';
import { WORD_BYTES } from '@oiseau/audio/pcm';
import type { EncoderOrder, FileSink } from '@oiseau/render';
import { fileArgument, pipedInput } from './ffmpeg-input.js';
import { CodecError, startFfmpeg } from './ffmpeg-process.js';

/** What FFmpeg is told for each coding, and the container that it writes. */
function encoderArguments({ coding, rate, format, bitrate, quality, headBytes }: EncoderOrder): string[] {
  const kbit = bitrate === null ? [] : ['-b:a', `${bitrate}k`];
  const words = format === 'int16' ? 's16' : 's32';
  switch (coding) {
    case 'flac': {
      const wide = format === 'int24' ? ['-bits_per_raw_sample', '24'] : [];
      return [
        '-c:a',
        'flac',
        '-sample_fmt',
        words,
        ...wide,
        '-metadata_header_padding',
        String(headBytes),
        '-f',
        'flac',
      ];
    }
    case 'alac': {
      const wide = format === 'int24' ? ['-bits_per_raw_sample', '24'] : [];
      return ['-c:a', 'alac', '-sample_fmt', `${words}p`, ...wide, ...mp4(rate)];
    }
    case 'aac':
      return ['-c:a', 'aac', ...kbit, ...mp4(rate)];
    case 'mp3': {
      const variable = quality === null ? [] : ['-q:a', String(quality)];
      // The Xing frame carries delay and padding of the encoder, by which players join tracks without a gap.
      return [
        '-c:a',
        'libmp3lame',
        ...kbit,
        ...variable,
        '-write_xing',
        '1',
        '-id3v2_version',
        '0',
        '-f',
        'mp3',
      ];
    }
    case 'opus':
      return ['-c:a', 'libopus', ...kbit, '-vbr', 'on', '-serial_offset', '1', '-f', 'opus'];
    case 'ogg':
      return ['-c:a', 'libvorbis', ...kbit, '-serial_offset', '1', '-f', 'ogg'];
    default:
      return coding satisfies never;
  }
}

/** The first frame of an MP3 file lies in these bytes, whatever its bit rate. */
const MP3_HEAD = 2048;

async function patchMp3Length(path: string, length: number): Promise<void> {
  const file = await open(path, 'r+');
  try {
    const head = new Uint8Array(MP3_HEAD);
    const { bytesRead } = await file.read(head, 0, MP3_HEAD, 0);
    setMp3Length(head.subarray(0, bytesRead), length);
    await file.write(head, 0, bytesRead, 0);
  } finally {
    await file.close();
  }
}

/** An M4A file whose edit list counts in samples, so that it is as long as what went in. */
const mp4 = (rate: number): string[] => ['-movie_timescale', String(rate), '-f', 'ipod'];

/** A list of chapters that comes down a pipe of its own. */
const PIPED_CHAPTERS = [
  ...['-f', 'ffmetadata', '-format_whitelist', 'ffmetadata', '-protocol_whitelist', 'pipe'],
  ...['-i', 'pipe:3'],
];

/** As a track of text, and not in a second list as well: what writes the tags afterwards cuts that list short. */
const TRACK_ONLY = ['-movflags', 'disable_chpl'];

/** Chapters in milliseconds as FFmpeg reads them: what would end a value or a line stands behind a backslash. */
function chapterList(chapters: EncoderOrder['chapters']): string {
  const ms = (seconds: number): number => Math.round(seconds * 1000);
  const escaped = (text: string): string => text.replace(/[\r\n\t]+/g, ' ').replace(/[=;#\\]/g, '\\$&');
  const lines = chapters.map(
    ({ start, end, title }) =>
      `[CHAPTER]\nTIMEBASE=1/1000\nSTART=${ms(start)}\nEND=${ms(end)}\ntitle=${escaped(title)}\n`,
  );
  return `;FFMETADATA1\n${lines.join('')}`;
}

/** Bytes that may wait for FFmpeg: while it works on them, the next ones are made. */
const BACKLOG = 1 << 21;

/** Starts an encoder fed with interleaved little-endian stereo words. Same words give the same bytes. */
export async function encode(path: string, order: EncoderOrder): Promise<FileSink> {
  const chaptered = order.chapters.length > 0;
  const { child, done } = startFfmpeg(
    [
      ...pipedInput(order.format, order.rate),
      ...(chaptered ? [...PIPED_CHAPTERS, '-map', '0:a', '-map_chapters', '1', ...TRACK_ONLY] : []),
      ...(chaptered ? [] : ['-map_metadata', '-1']),
      ...['-fflags', '+bitexact', '-flags:a', '+bitexact'],
      ...[...encoderArguments(order), '-n', fileArgument(path)],
    ],
    `write ${order.coding.toUpperCase()}`,
    chaptered ? chapterList(order.chapters) : null,
  );
  const { stdin } = child;
  if (!stdin) throw new CodecError('FFmpeg has no input.');
  /** Memory of words that FFmpeg has taken, for those that come next. */
  const free: Buffer[] = [];
  return {
    async write(bytes) {
      // What FFmpeg has not taken yet waits in its input; whoever wrote it uses the memory again.
      const at = free.findIndex(({ length }) => length >= bytes.length);
      const memory = (at >= 0 && free.splice(at, 1)[0]) || Buffer.allocUnsafeSlow(bytes.length);
      memory.set(bytes);
      const taken = (): void => void free.push(memory);
      if (stdin.write(memory.subarray(0, bytes.length), taken) || stdin.writableLength < BACKLOG) return;
      const ended = done.then(() => Promise.reject(new CodecError('FFmpeg ended before the audio did.')));
      // A broken pipe only says that FFmpeg has died; its own last words say why.
      await Promise.race([once(stdin, 'drain').catch(() => ended), ended]);
    },
    async close() {
      // A decoder of MP3 is late by half a frame and more: without a frame after the last sample it could not cut the end off.
      if (order.coding === 'mp3') stdin.write(new Uint8Array(MP3_FRAME * 2 * WORD_BYTES[order.format]));
      stdin.end();
      await done;
      if (order.coding === 'mp3') await patchMp3Length(path, order.length);
    },
    abort() {
      child.kill('SIGKILL');
    },
  };
}
