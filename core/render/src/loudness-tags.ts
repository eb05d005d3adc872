import { sequenceOfAlternate } from '@oiseau/album/model';
import { Meters, readThrough, type Measurement } from '@oiseau/audio/measure';
import type { PcmSource } from '@oiseau/audio/pcm';
import { loudnessTags, type TagSet } from '@oiseau/codings';
import { ticksToSamples } from '@oiseau/audio/time';
import { audioFiles, type Plan, type PlannedAudio, type PlannedFile } from './planned.js';
import { Programme } from './programme.js';
import type { RenderInput } from './render-input.js';

type Figures = Pick<Measurement, 'integratedLufs' | 'truePeakDbtp'>;

/**
 * The plan with the loudness of each file and of the whole album, all parts, in the tags of those files that are to tell it. What is
 * measured is the programme of the recording that the files are made of, at each file’s own rate; the album at the highest of them.
 * @param going called again and again; it may throw to end it
 */
export async function withLoudnessTags(
  plan: Plan,
  input: RenderInput,
  going: () => Promise<void> | void,
): Promise<Plan> {
  const told = audioFiles(plan).filter(({ loudness }) => loudness);
  if (told.length === 0) return plan;
  const tags = new Map<PlannedAudio, TagSet>();
  for (const alternate of new Set(told.map((file) => file.alternate))) {
    const files = told.filter((file) => file.alternate === alternate);
    const [album, own] = await measureFiles(files, alternate, input, going);
    for (const file of files) {
      const measured = own.get(file);
      if (measured) tags.set(file, loudnessTags(file.coding, measured, album));
    }
  }
  const filled = (file: PlannedFile): PlannedFile =>
    file.kind === 'audio' && tags.has(file) ? { ...file, tags: { ...file.tags, ...tags.get(file) } } : file;
  return { ...plan, files: plan.files.map(filled) };
}

/** The figures of the album as one recording, and of files that are cut from it. */
async function measureFiles(
  files: readonly PlannedAudio[],
  alternate: string,
  { parts, masters }: RenderInput,
  going: () => Promise<void> | void,
): Promise<[album: Figures, own: ReadonlyMap<PlannedAudio, Figures>]> {
  const rate = Math.max(...files.map((file) => file.rate));
  const album = new Meters(rate, 'float64');
  const own = new Map<PlannedAudio, Figures>();
  for (const part of parts) {
    const sequence = sequenceOfAlternate(part, alternate);
    const programme = new Programme(sequence, masters, rate);
    await readThrough(programmeSource(programme, 0, programme.length), (block) => album.push(block), going);
    const others = new Map([[rate, programme]]);
    for (const file of files.filter((each) => each.part === part.number)) {
      const at = others.get(file.rate) ?? new Programme(sequence, masters, file.rate);
      others.set(file.rate, at);
      const meters = new Meters(file.rate, 'float64');
      const start = ticksToSamples(file.stretch.start, file.rate);
      await readThrough(programmeSource(at, start, file.length), (block) => meters.push(block), going);
      own.set(file, meters.result());
    }
  }
  return [album.result(), own];
}

/** A stretch of a programme, in samples, as a source of its own. */
const programmeSource = (programme: Programme, from: number, length: number): PcmSource => ({
  ...{ rate: programme.rate, length, format: 'float64' },
  read: (start, count) => programme.read(from + start, count),
});
