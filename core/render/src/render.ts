import { CODING_FILES, isLossyCoding } from '@oiseau/codings';
import { Meters } from '@oiseau/audio/measure';
import { WORD_BYTES, decodeWords } from '@oiseau/audio/pcm';
import { Envelope } from './envelope.js';
import { fileKindOf } from './files/files.js';
import type { RenderInput, WrittenAudio } from './render-input.js';
import { withLoudnessTags } from './loudness-tags.js';
import { audioFiles, type Plan, type PlannedAudio } from './planned.js';
import type { Progress, RenderPorts } from './ports.js';
import { SoundOfPlan } from './sound-of-plan.js';
import type { ShortenedStretch } from './stretches.js';

/**
 * Writes everything a plan lists. Files of one part and rate that follow each other without a hole share one dither stream, so
 * that they are the programme, sample for sample, when laid end to end.
 * @param progress called with the seconds of audio written so far
 * @param whole called with each file of audio as soon as nothing more is written to it, while the next one is written
 * @returns with the plan, whose files carry what was measured for their tags
 */
export async function renderPlan(
  asked: Plan,
  input: RenderInput,
  ports: RenderPorts,
  progress: Progress,
  whole: (audio: WrittenAudio) => void = () => undefined,
): Promise<{ readonly plan: Plan; readonly written: WrittenAudio[] }> {
  const plan = await withLoudnessTags(asked, input, () => progress(0));
  const written: WrittenAudio[] = [];
  const sound = new SoundOfPlan(plan, input, ports);
  let doneSeconds = 0;
  // An encoder is still busy with the end of a file when the next one begins.
  let finishing = Promise.resolve();
  try {
    for (const file of audioFiles(plan)) {
      const before = doneSeconds;
      const { audio, finish } = await feed(file, sound.next(file), input, ports, (seconds) =>
        progress(before + seconds),
      );
      const earlier = finishing;
      finishing = finish(earlier).then(() => {
        whole(audio);
      });
      finishing.catch(() => undefined);
      await earlier;
      written.push(audio);
      doneSeconds += file.length / file.rate;
    }
  } finally {
    await sound.close();
    await finishing.catch(() => undefined);
  }
  await finishing;
  for (const file of plan.files)
    if (file.kind !== 'audio')
      await writeFile(file.path, await fileKindOf(file).bytes(file, { ports, input }), ports);
  return { plan, written };
}

async function writeFile(path: string, bytes: Uint8Array, ports: RenderPorts): Promise<void> {
  const sink = await ports.createFile(path);
  await sink.write(bytes);
  await sink.close();
}

/** Writes the words of a file. It is whole once `finish` has resolved, which waits for the file before it, and fails with it. */
async function feed(
  file: PlannedAudio,
  sound: AsyncIterable<ShortenedStretch>,
  input: RenderInput,
  ports: RenderPorts,
  progress: Progress,
): Promise<{ audio: WrittenAudio; finish: (earlier: Promise<void>) => Promise<void> }> {
  const checksum = ports.crc32();
  const files = CODING_FILES[file.coding];
  const sink = await files.open(file, input.cover, ports);
  const envelope = new Envelope(file.rate);
  const lossy = isLossyCoding(file.coding);
  let samplePeak = 0;
  let residual = 0;
  let isNearest = true;
  const meters = files.carriesLoudness?.(file) ? new Meters(file.rate, file.format) : null;
  /** Whatever fails, the sink is let go of. */
  const orAbort = async (work: () => Promise<void>): Promise<void> => {
    try {
      await work();
    } catch (error) {
      await sink.abort();
      throw error;
    }
  };
  await orAbort(async () => {
    let done = 0;
    for await (const { words, ...extremes } of sound) {
      samplePeak = Math.max(samplePeak, extremes.samplePeak);
      residual = Math.max(residual, extremes.residual);
      isNearest &&= extremes.isNearest;
      checksum.update(words);
      meters?.pushWords(words);
      if (lossy) envelope.push(decodeWords(words, file.format, 2));
      await sink.write(words);
      done += words.length / (2 * WORD_BYTES[file.format]);
      await progress(done / file.rate);
    }
  });
  return {
    audio: {
      planned: file,
      wordsCrc32: checksum.digest(),
      samplePeak,
      residual,
      isNearest,
      envelope: envelope.done(),
    },
    finish: (earlier) =>
      orAbort(async () => {
        await earlier;
        await sink.close();
        await files.tag?.(file, input.cover, ports);
        if (meters) await files.sealLoudness?.(file, meters.result(), ports);
      }),
  };
}
