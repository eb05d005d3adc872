import type { Interval, Ticks } from '@oiseau/audio/time';
import type { Placement } from '@oiseau/album/layout';
import type { PlayerProgramme } from './protocol.js';

/** For each sample rate that the masters of a programme have, where a song at that rate lies. */
export function songsOfRates(
  sequence: PlayerProgramme['sequence'],
  masters: PlayerProgramme['masters'],
  placement: Placement,
): ReadonlyMap<number, Interval<Ticks>> {
  return new Map(
    sequence.songs.flatMap(({ id, region }) => {
      const rate = masters.get(region.master)?.info.rate;
      const placed = placement.songs.get(id);
      return rate !== undefined && placed ? [[rate, placed] as const] : [];
    }),
  );
}
