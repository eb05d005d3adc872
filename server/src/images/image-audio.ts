import { msg } from '@oiseau/messages';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { encodeWords, wavHeader, WORD_BYTES, type PcmSource } from '@oiseau/audio/pcm';
import { safeFileName } from '@oiseau/album/model';
import type { DiscImage } from '@oiseau/formats/disc';
import { openImage } from '@oiseau/host';
import { ApiError } from '../http/api-error.js';
import type { Intake } from '../masters/intake.js';
import type { Visitor } from '../access/visitor.js';

/** Samples at a time. */
const JOINED_BLOCK = 16_384;

/** Takes the audio of an opened image in as one master. @throws ApiError 422 */
export async function receiveImageAudio(
  intake: Intake,
  visitor: Visitor,
  folder: string,
  { audio, text }: DiscImage,
): Promise<{ readonly sha256: string; readonly name: string }> {
  if (!audio) throw new ApiError(422, msg('The disc image names no audio file.'));
  const path = join(folder, audio.path);
  const bare = /\.(dat|bin)$/i.test(path);
  const name = bare || audio.more ? `${safeFileName(text.title ?? 'Disc image')}.wav` : audio.path;
  const order = { name, mono: false };
  if (audio.more) return { ...(await receiveJoined(intake, visitor, folder, order)), name };
  const content = bare ? await withHead(path) : createReadStream(path);
  return { ...(await intake.receive(visitor, order, content, (await stat(path)).size)), name };
}

/** Several files of a cue sheet as one master. */
async function receiveJoined(
  intake: Intake,
  visitor: Visitor,
  folder: string,
  order: { readonly name: string; readonly mono: boolean },
) {
  const { audio, close } = await openImage(folder);
  try {
    if (!audio) throw new ApiError(422, msg('The files of the image can’t be joined.'));
    const { format, rate, length } = audio;
    const head = wavHeader(format, rate, length);
    const size = head.length + length * 2 * WORD_BYTES[format];
    return await intake.receive(visitor, order, Readable.from(wordsOf(head, audio)), size);
  } finally {
    await close();
  }
}

async function* wordsOf(head: Uint8Array, audio: PcmSource): AsyncGenerator<Uint8Array> {
  yield head;
  for (let at = 0; at < audio.length; at += JOINED_BLOCK)
    yield encodeWords(await audio.read(at, Math.min(JOINED_BLOCK, audio.length - at)), audio.format);
}

/** The raw PCM of an image as a WAV file. */
async function withHead(path: string): Promise<Readable> {
  const { size } = await stat(path);
  const length = Math.floor(size / 4);
  async function* parts(): AsyncGenerator<Uint8Array> {
    yield wavHeader('int16', 44_100, length);
    yield* createReadStream(path, { end: Math.max(0, length * 4 - 1) }) as AsyncIterable<Buffer>;
  }
  return Readable.from(parts());
}
