import type { Layout, Sequence } from '../album/sequence.js';
import { isInteger, silence, wordBits, type PcmSource } from '../pcm/block.js';
import { ticksToSamples } from '../time/ticks.js';
import type { Plan } from './planned.js';
import { Programme } from './programme.js';

/**
 * Numbers of the tracks whose audio goes through a plan bit for bit, without dither: the same rate, words that fit, and nothing
 * done to them (trade.md 4). Lossy files let nothing through.
 * @param masters facts of everything that sounds, in order
 */
export function untouchedTracks(
  plan: Plan,
  sequence: Sequence,
  layout: Layout,
  masters: readonly Omit<PcmSource, 'read'>[],
): number[] {
  // One object for one master, as in a render: songs that run into each other within it are recognised by that.
  const sources = new Map<object, PcmSource>();
  for (const facts of masters)
    sources.set(facts, { ...facts, read: (_, count) => Promise.resolve(silence(count)) });
  const all = masters.map((facts) => sources.get(facts) as PcmSource);
  const programmes = new Map<number, Programme>();
  const touched = new Set<number>();
  const heard = new Set<number>();
  for (const file of plan.audio) {
    const programme = programmes.get(file.rate) ?? new Programme(sequence, layout, all, file.rate);
    programmes.set(file.rate, programme);
    // Float words hold any integer of 24 bits.
    const bits = isInteger(file.format) ? wordBits(file.format) : 24;
    const lossy = file.bitrate !== null || file.quality !== null;
    const ranges = programme.touchedRanges(bits);
    layout.tracks.forEach(({ audioStart, audioEnd }, i) => {
      if (audioStart >= file.end || audioEnd <= file.start) return;
      heard.add(i + 1);
      const from = ticksToSamples(audioStart, file.rate);
      const to = ticksToSamples(audioEnd, file.rate);
      if (lossy || ranges.some(({ start, end }) => start < to && end > from)) touched.add(i + 1);
    });
  }
  return [...heard].filter((track) => !touched.has(track)).sort((a, b) => a - b);
}
