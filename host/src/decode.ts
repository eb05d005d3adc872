import { decodeWords, encodeWords, WORD_BYTES } from '@oiseau/audio/pcm';
import type { AudioStream } from '@oiseau/codings';
import { ffmpegInput, RAW } from './ffmpeg-input.js';
import { startFfmpeg } from './ffmpeg-process.js';
import { probeAudio, type ProbedAudio } from './probe.js';

/** Opens a coded audio file to be heard from the start. @throws CodecError when it holds no audio FFmpeg can read */
export async function decodeFile(path: string): Promise<AudioStream & ProbedAudio> {
  const probed = await probeAudio(path);
  // A decoder of AAC gives whole frames of 1024; how long the audio is the container tells.
  const length =
    probed.codec === 'aac' && probed.seconds !== null ? Math.round(probed.seconds * probed.rate) : Infinity;
  const most = length * 2 * WORD_BYTES[probed.format];
  return { ...probed, words: () => cutAfter(most, decodedWords(path, probed)) };
}

/** The first bytes of what comes in chunks, `most` at the most. */
async function* cutAfter(most: number, chunks: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
  let left = most;
  for await (const bytes of chunks) {
    if (bytes.length <= left) yield bytes;
    else if (left > 0) yield bytes.subarray(0, left);
    left -= bytes.length;
  }
}

/** The same bytes in pieces of whole samples: one that lies in two chunks is put together, the others stay where they are. What is less than one at the end is left out. @param step bytes of a sample */
export async function* inWhole(chunks: AsyncIterable<Buffer>, step: number): AsyncGenerator<Buffer> {
  let begun: Buffer = Buffer.alloc(0);
  for await (const chunk of chunks) {
    const missing = begun.length > 0 ? step - begun.length : 0;
    if (missing > 0) begun = Buffer.concat([begun, chunk.subarray(0, missing)]);
    if (begun.length === step) {
      yield begun;
      begun = Buffer.alloc(0);
    }
    const rest = chunk.subarray(missing);
    const whole = rest.length - (rest.length % step);
    if (whole > 0) yield rest.subarray(0, whole);
    if (whole < rest.length) begun = Buffer.from(rest.subarray(whole));
  }
}

/** Decodes to raw words through a pipe. */
async function* decodedWords(
  path: string,
  { form, format, channels }: ProbedAudio,
): AsyncGenerator<Uint8Array> {
  const { child, done } = startFfmpeg(
    [...ffmpegInput(path, form), '-map', '0:a:0', '-f', RAW[format], 'pipe:1'],
    'read the file',
  );
  const step = WORD_BYTES[format] * channels;
  try {
    for await (const words of inWhole(child.stdout as AsyncIterable<Buffer>, step))
      yield channels === 2 ? words : encodeWords(decodeWords(words, format, channels), format);
    await done;
  } finally {
    child.kill('SIGKILL');
  }
}
