import { figure, msg } from '@oiseau/messages';
import { isUntreated } from '@oiseau/audio/stages';
import { overlaps } from '@oiseau/audio/time';
import type { Finding, Rule } from './finding.js';
import { heardRegions } from './heard-region.js';
import { masterDoubts } from './master-doubts.js';

/** A master that was dithered to 16 bit is not worked on and dithered again (docs/rules.md 4.2). */
export const ditherTwice: Rule = (subject) =>
  heardRegions(subject).flatMap(({ song: { id: song, region }, detail }): Finding[] => {
    if (!masterDoubts(detail).some(({ code }) => code === 'dithered')) return [];
    const reasons = [
      region.gainDb === 0 ? null : msg('it has gain'),
      isUntreated(region.sound) && isUntreated(subject.album.sound) ? null : msg('it is treated'),
      region.fadeIn.length + region.fadeOut.length === 0 ? null : msg('it has fades'),
      isOverlapped(subject, song) ? msg('it overlaps another track') : null,
      detail.info.rate === 44_100
        ? null
        : msg('its sample rate is {rate}', { rate: figure(`${detail.info.rate / 1000} kHz`) }),
    ].filter((reason) => reason !== null);
    if (reasons.length === 0) return [];
    return [{ code: 'dithered-again', severity: 'warning', song, why: reasons }];
  });

function isOverlapped({ parts }: Parameters<Rule>[0], song: string): boolean {
  return parts.some(({ placement: { songs } }) => {
    const placed = songs.get(song);
    return placed && [...songs].some(([id, other]) => id !== song && overlaps(other, placed));
  });
}
