import type { Finding, Rule } from './finding.js';
import { heardRegions } from './heard-region.js';
import { masterDoubts } from './master-doubts.js';

/** A master that was dithered to 16 bit is not worked on and dithered again (trade.md 4). */
export const ditherTwice: Rule = (subject) => {
  const { album, layout } = subject;
  const first = album.hidden ? -1 : 0;
  const regions = heardRegions(subject);
  return regions.flatMap(({ track, of, detail }): Finding[] => {
    if (!masterDoubts(detail).some(({ code }) => code === 'dithered')) return [];
    const placed = track < 0 ? layout.hidden : layout.tracks[track];
    const around = [track - 1, track + 1]
      .filter((at) => at >= first)
      .map((at) => (at < 0 ? layout.hidden : layout.tracks[at]));
    const overlaps = around.some(
      (other) => other && placed && other.audioStart < placed.audioEnd && other.audioEnd > placed.audioStart,
    );
    const reasons = [
      of.gainDb === 0 ? '' : 'it has a gain',
      of.fadeIn.length + of.fadeOut.length === 0 ? '' : 'it is faded',
      overlaps ? 'it overlaps another song' : '',
      detail.info.rate === 44_100 ? '' : `it comes at ${detail.info.rate / 1000} kHz`,
    ].filter(Boolean);
    if (reasons.length === 0) return [];
    return [{ code: 'dithered-again', severity: 'warning', track, why: reasons.join(', ') }];
  });
};
