import { layOut, masterTicks, ticks, ticksToSamples, type Sequence, type Ticks } from '@oiseau/core';
import type { MasterRecord } from '../api/types.js';
import { PLAYER_RATE } from './player.js';
import type { PlayerProgramme } from './protocol.js';

/** Something that is heard by itself, apart from the album: a whole master, or a stretch of one. */
export interface Guest {
  /** What the transport calls it. */
  readonly name: string;
  readonly programme: PlayerProgramme;
  readonly length: Ticks;
  /** Sample of its programme to start at, at once. Left out: it waits for play. */
  readonly playFrom?: number;
}

const NO_FADE = { length: ticks(0), shape: 'linear' } as const;

/**
 * A stretch of a master as a guest; the whole of it when no stretch is given.
 * @param playFrom time within the stretch at which it starts at once
 */
export function masterGuest(
  master: Pick<MasterRecord, 'sha256' | 'name' | 'info'>,
  stretch: { readonly in: Ticks; readonly out: Ticks } = { in: ticks(0), out: masterTicks(master.info) },
  playFrom?: Ticks,
): Guest {
  const sequence: Sequence = {
    hidden: null,
    tracks: [
      {
        ...stretch,
        gapBefore: ticks(0),
        gainDb: 0,
        fadeIn: NO_FADE,
        fadeOut: NO_FADE,
        indexes: [],
        markLead: null,
        pauseDelay: null,
      },
    ],
    markLead: ticks(0),
    endPause: ticks(0),
  };
  return {
    name: master.name,
    programme: { sequence, masters: [{ url: `/api/masters/${master.sha256}/audio`, info: master.info }] },
    length: layOut(sequence).end,
    ...(playFrom === undefined ? {} : { playFrom: ticksToSamples(playFrom, PLAYER_RATE) }),
  };
}
