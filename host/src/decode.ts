import { WORD_BYTES, decodeWords, type AudioStream, type Block, type WordFormat } from '@oiseau/core';
import { fileArgument, RAW, startFfmpeg } from './ffmpeg-process.js';
import { probeAudio, type ProbedAudio } from './probe.js';

/** Opens a coded audio file to be heard from the start. @throws CodecError when it holds no audio FFmpeg can read */
export async function decodeFile(path: string): Promise<AudioStream & ProbedAudio> {
  const probed = await probeAudio(path);
  // A decoder of AAC gives whole frames of 1024; how long the audio is the container tells.
  const length =
    probed.codec === 'aac' && probed.seconds !== null ? Math.round(probed.seconds * probed.rate) : Infinity;
  return { ...probed, blocks: () => cutAfter(length, decodedBlocks(path, probed.format, probed.channels)) };
}

/** The first `length` samples of what comes in blocks. */
async function* cutAfter(length: number, blocks: AsyncIterable<Block>): AsyncGenerator<Block> {
  let left = length;
  for await (const block of blocks) {
    if (block.left.length <= left) yield block;
    else if (left > 0) yield { left: block.left.subarray(0, left), right: block.right.subarray(0, left) };
    left -= block.left.length;
  }
}

/** Decodes to raw words through a pipe. A read may end inside a sample: what is left waits for the next. */
async function* decodedBlocks(path: string, format: WordFormat, channels: number): AsyncGenerator<Block> {
  const { child, done } = startFfmpeg(
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
