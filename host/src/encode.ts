import { msg } from '@oiseau/messages';
import { once } from 'node:events';
import { open } from 'node:fs/promises';
import type { EncoderOrder, FileSink } from '@oiseau/codings';
import { WORD_BYTES } from '@oiseau/audio/pcm';
import { fileArgument, pipedInput } from './ffmpeg-input.js';
import { CodecError, startFfmpeg } from './ffmpeg-process.js';

/** Corrects the head of a finished file, for what is known only at its end. */
async function correctHead(path: string, { encoder: { head }, length }: EncoderOrder): Promise<void> {
  if (!head) return;
  const file = await open(path, 'r+');
  try {
    const bytes = new Uint8Array(head.bytes);
    const { bytesRead } = await file.read(bytes, 0, head.bytes, 0);
    head.correct(bytes.subarray(0, bytesRead), length);
    await file.write(bytes, 0, bytesRead, 0);
  } finally {
    await file.close();
  }
}

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
      ...[...order.encoder.options(order), '-n', fileArgument(path)],
    ],
    `write ${order.label}`,
    chaptered ? chapterList(order.chapters) : null,
  );
  const { stdin } = child;
  if (!stdin) throw new CodecError(msg('FFmpeg has no input.'));
  /** Memory of words that FFmpeg has taken, for those that come next. */
  const free: Buffer[] = [];
  return {
    async write(bytes) {
      // What FFmpeg has not taken yet waits in its input, and the caller reuses the memory.
      const at = free.findIndex(({ length }) => length >= bytes.length);
      const memory = (at >= 0 && free.splice(at, 1)[0]) || Buffer.allocUnsafeSlow(bytes.length);
      memory.set(bytes);
      const taken = (): void => void free.push(memory);
      if (stdin.write(memory.subarray(0, bytes.length), taken) || stdin.writableLength < BACKLOG) return;
      const ended = done.then(() =>
        Promise.reject(new CodecError(msg('FFmpeg ended before the end of the audio.'))),
      );
      // A broken pipe only says that FFmpeg has died; its own last words say why.
      await Promise.race([once(stdin, 'drain').catch(() => ended), ended]);
    },
    async close() {
      const { tail = 0 } = order.encoder;
      if (tail > 0) stdin.write(new Uint8Array(tail * 2 * WORD_BYTES[order.format]));
      stdin.end();
      await done;
      await correctHead(path, order);
    },
    abort() {
      child.kill('SIGKILL');
    },
  };
}
