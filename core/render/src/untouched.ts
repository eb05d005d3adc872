import { sequenceOfAlternate } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { isInteger, silence, wordBits, type PcmSource } from '@oiseau/audio/pcm';
import { overlaps, type Interval, ticksToSamples, type Samples, type Ticks } from '@oiseau/audio/time';
import { audioFiles, type Plan } from './planned.js';
import { Programme } from './programme.js';

/**
 * Ids of the songs whose audio goes through a plan bit for bit, without dither: the same rate, words that fit, and nothing
 * done to them (docs/rules.md 4.2). Lossy files let nothing through. In the order of the album.
 * @param masters facts of everything that sounds, by the key that regions name it by
 */
export function untouchedSongs(
  plan: Plan,
  parts: readonly Part[],
  masters: ReadonlyMap<string, Omit<PcmSource, 'read'>>,
): string[] {
  const sources = new Map(
    [...masters].map(([key, facts]) => [
      key,
      { ...facts, read: (_: number, count: number) => Promise.resolve(silence(count)) },
    ]),
  );
  const touched = new Set<string>();
  const heard = new Set<string>();
  const rangesOf = new Map<string, readonly Interval<Samples>[]>();
  for (const file of audioFiles(plan)) {
    const part = parts.find(({ number }) => number === file.part);
    if (!part) continue;
    // Float words hold any integer of 24 bits.
    const bits = isInteger(file.format) ? wordBits(file.format) : 24;
    const lossy = file.bitrate !== null || file.quality !== null;
    const key = [part.number, file.rate, bits, file.alternate].join(' ');
    const sequence = sequenceOfAlternate(part, file.alternate);
    const ranges = rangesOf.get(key) ?? new Programme(sequence, sources, file.rate).touchedRanges(bits);
    rangesOf.set(key, ranges);
    const at = (time: Ticks): Samples => ticksToSamples(time, file.rate);
    for (const { id } of part.tracks) {
      const audio = part.placement.songs.get(id);
      if (!audio || !overlaps(audio, file.stretch)) continue;
      heard.add(id);
      const place = { start: at(audio.start), end: at(audio.end) };
      if (lossy || ranges.some((range) => overlaps(range, place))) touched.add(id);
    }
  }
  return parts.flatMap(({ tracks }) =>
    tracks.map(({ id }) => id).filter((id) => heard.has(id) && !touched.has(id)),
  );
}
