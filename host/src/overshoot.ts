import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { decodeWords, encodeWords, type PcmSource } from '@oiseau/audio/pcm';
import { linearToDb } from '@oiseau/audio/dsp';
import { TruePeakMeter } from '@oiseau/audio/measure';
import { CODING_FILES, factsOf, type Coding, type EncoderOrder } from '@oiseau/codings';
import type { Interval, Samples } from '@oiseau/audio/time';
import { decodeFile } from './decode.js';
import { encode } from './encode.js';

/** Samples that a stretch begins and ends with that are faded, so that no encoder hears a cut. */
const EDGE = 441;
const BLOCK = 8192;

/** How a file is coded. */
export interface Coded extends Pick<EncoderOrder, 'rate' | 'bitrate' | 'quality'> {
  readonly coding: Coding;
}

/**
 * True peaks of stretches of a programme before they are encoded and after they are decoded, dBTP; of silence −144.
 * @param source at the rate of the file
 * @throws CodecError
 */
export async function overshootOf(
  source: PcmSource,
  stretches: readonly Interval<Samples>[],
  coded: Coded,
  progress?: (samples: number) => Promise<void>,
): Promise<{ before: number; after: number }> {
  const folder = await mkdtemp(join(tmpdir(), 'oiseau-room-'));
  try {
    const { format: extension, label } = factsOf(coded.coding);
    const { encoder } = CODING_FILES[coded.coding];
    if (!encoder) throw new RangeError(`${label} is not written by an encoder`);
    const path = join(folder, `moments.${extension}`);
    const length = stretches.reduce((sum, { start, end }) => sum + end - start, 0);
    const sink = await encode(path, {
      ...coded,
      ...{ label, encoder, format: 'float32', length, headBytes: 0, chapters: [] },
    });
    const before = new TruePeakMeter(coded.rate);
    try {
      for (const { start, end } of stretches)
        for (let at: number = start; at < end; at += BLOCK) {
          const block = await source.read(at, Math.min(BLOCK, end - at));
          for (const audio of [block.left, block.right])
            for (let i = 0; i < audio.length; i++) {
              const edge = Math.min(at + i - start, end - 1 - at - i);
              if (edge < EDGE) audio[i] = ((audio[i] as number) * edge) / EDGE;
            }
          before.push(block);
          await sink.write(encodeWords(block, 'float32'));
          await progress?.(block.left.length);
        }
      await sink.close();
    } catch (error) {
      await sink.abort();
      throw error;
    }
    const decoded = await decodeFile(path);
    const after = new TruePeakMeter(decoded.rate);
    for await (const words of decoded.words()) after.push(decodeWords(words, decoded.format, 2));
    return { before: inDb(before.result()), after: inDb(after.result()) };
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

const SILENT_DB = -144;
const inDb = (linear: number): number => (linear > 0 ? linearToDb(linear) : SILENT_DB);
