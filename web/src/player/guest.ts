import { NO_ALBUM_TREATMENT } from '@oiseau/audio/stages';
import { intervalLength, ticks, ticksToSamples, type Interval, type Ticks } from '@oiseau/audio/time';
import { masterTicks, NO_MARKS, wholeMaster, type Sequence } from '@oiseau/album/model';
import { addressOf, CONTRACT, type MasterRecord } from '@oiseau/api';
import { PLAYER_RATE } from './player.js';
import type { PlayerProgramme } from './protocol.js';

/** Something that is heard by itself, apart from the album: a whole master, or a stretch of one. */
export interface Guest {
  /** What the transport calls it. */
  readonly name: string;
  /** What it is, in a word. */
  readonly what: string;
  readonly programme: PlayerProgramme;
  readonly length: Ticks;
  /** Sample of its programme to start at, at once. Left out: it waits for play. */
  readonly playFrom?: number;
}

/**
 * A stretch of a master as a guest; the whole of it when no stretch is given.
 * @param playFrom time within the stretch at which it starts at once
 */
export function masterGuest(
  master: Pick<MasterRecord, 'sha256' | 'name' | 'info'>,
  stretch: Interval<Ticks> = { start: ticks(0), end: masterTicks(master.info) },
  playFrom?: Ticks,
): Guest {
  const region = { ...wholeMaster(master.sha256, ticks(0)), in: stretch.start, out: stretch.end };
  const sequence: Sequence = {
    songs: [{ id: master.sha256, numbered: true, region, marks: NO_MARKS }],
    markLead: ticks(0),
    endPause: ticks(0),
    sound: NO_ALBUM_TREATMENT,
  };
  const audio = { url: addressOf(CONTRACT.masterAudio, { params: master }), info: master.info };
  return {
    ...{ name: master.name, what: 'master' },
    programme: { sequence, masters: new Map([[master.sha256, audio]]) },
    length: intervalLength(stretch),
    ...(playFrom === undefined ? {} : { playFrom: ticksToSamples(playFrom, PLAYER_RATE) }),
  };
}
