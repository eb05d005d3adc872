import { sequenceOfAlternate } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { isInteger, silence, wordBits, type PcmSource } from '@oiseau/audio/pcm';
import { overlaps, type Interval, ticksToSamples, type Samples, type Ticks } from '@oiseau/audio/time';
import { isUntreated } from '@oiseau/audio/stages';
import { audioFiles, type Plan, type PlannedAudio } from './planned.js';
import { Programme } from './programme.js';

/** Facts of everything that sounds, by the key that regions name it by. */
type FactsByKey = ReadonlyMap<string, Omit<PcmSource, 'read'>>;

/** The songs that sound in a file, and the ids of those whose samples change on the way. */
interface Passage {
  readonly part: Part;
  readonly heard: readonly string[];
  readonly touched: ReadonlySet<string>;
}

/** What happens to songs in files of a plan; ranges of one programme are asked for once. */
function passages(parts: readonly Part[], masters: FactsByKey): (file: PlannedAudio) => Passage | null {
  const sources = new Map(
    // Field by field: an open file has its facts on its class, which a spread leaves out.
    [...masters].map(([key, { rate, length, format }]) => [
      key,
      { rate, length, format, read: (_: number, count: number) => Promise.resolve(silence(count)) },
    ]),
  );
  const rangesOf = new Map<string, readonly Interval<Samples>[]>();
  return (file) => {
    const part = parts.find(({ number }) => number === file.part);
    if (!part) return null;
    // Float words hold any integer of 24 bits.
    const bits = isInteger(file.format) ? wordBits(file.format) : 24;
    const key = [part.number, file.rate, bits, file.alternate].join(' ');
    const sequence = sequenceOfAlternate(part, file.alternate);
    const ranges = rangesOf.get(key) ?? new Programme(sequence, sources, file.rate).touchedRanges(bits);
    rangesOf.set(key, ranges);
    const at = (time: Ticks): Samples => ticksToSamples(time, file.rate);
    const heard: string[] = [];
    const touched = new Set<string>();
    for (const { id } of part.tracks) {
      const audio = part.placement.songs.get(id);
      if (!audio || !overlaps(audio, file.stretch)) continue;
      heard.push(id);
      const place = { start: at(audio.start), end: at(audio.end) };
      if (isLossyFile(file) || ranges.some((range) => overlaps(range, place))) touched.add(id);
    }
    return { part, heard, touched };
  };
}

const isLossyFile = ({ bitrate, quality }: PlannedAudio): boolean => bitrate !== null || quality !== null;

/**
 * Ids of the songs whose audio goes through a plan bit for bit, without dither: the same rate, words that fit, and nothing
 * done to them (docs/rules.md 4.2). Lossy files let nothing through. In the order of the album.
 */
export function untouchedSongs(plan: Plan, parts: readonly Part[], masters: FactsByKey): string[] {
  const passageOf = passages(parts, masters);
  const found = audioFiles(plan).flatMap((file) => passageOf(file) ?? []);
  const heard = new Set(found.flatMap((each) => each.heard));
  const touched = new Set(found.flatMap((each) => [...each.touched]));
  return parts.flatMap(({ tracks }) =>
    tracks.map(({ id }) => id).filter((id) => heard.has(id) && !touched.has(id)),
  );
}

/** What happens to samples on the way into a file; of several the last. */
export type SampleChange = 'bit-perfect' | 'converted' | 'dithered' | 'treated' | 'coded';

/** What happens to the samples of each audio file of a plan, by its path. */
export function sampleChanges(
  plan: Plan,
  parts: readonly Part[],
  masters: FactsByKey,
): ReadonlyMap<string, SampleChange> {
  const passageOf = passages(parts, masters);
  return new Map(
    audioFiles(plan).map((file): [string, SampleChange] => {
      const passage = passageOf(file);
      if (isLossyFile(file)) return [file.path, 'coded'];
      if (!passage || passage.touched.size === 0) return [file.path, 'bit-perfect'];
      if (isProcessed(passage)) return [file.path, 'treated'];
      return [file.path, file.dither === 'none' ? 'converted' : 'dithered'];
    }),
  );
}

/** Whether anything but sample rate and bit depth changes the sound: a treatment, a gain, a fade, an overlap. */
function isProcessed({ part: { sequence, placement }, heard }: Passage): boolean {
  const isTreatedSong = ({ region }: (typeof sequence.songs)[number]): boolean =>
    !isUntreated(region.sound) ||
    region.gainDb !== 0 ||
    region.fadeIn.length > 0 ||
    region.fadeOut.length > 0;
  const places = heard.flatMap((id) => placement.songs.get(id) ?? []);
  return (
    !isUntreated(sequence.sound) ||
    sequence.songs.some((song) => heard.includes(song.id) && isTreatedSong(song)) ||
    places.some((one, i) => places.slice(i + 1).some((other) => overlaps(one, other)))
  );
}
