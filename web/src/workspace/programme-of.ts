import type { Sequence } from '@oiseau/album/model';
import { addressOf, CONTRACT, type MasterRecord } from '@oiseau/api';
import type { PlayerProgramme } from '../player/protocol.js';

/** A sequence as the player needs it; null while a master is not known. */
export function programmeOf(
  sequence: Sequence,
  mastersById: ReadonlyMap<string, MasterRecord>,
): PlayerProgramme | null {
  const played = new Set(sequence.songs.map(({ region }) => region.master));
  const masters = new Map(
    [...played].flatMap((master) => {
      const found = mastersById.get(master);
      if (!found) return [];
      const url = addressOf(CONTRACT.masterAudio, { params: { sha256: master } });
      return [[master, { url, info: found.info }] as const];
    }),
  );
  return masters.size < played.size ? null : { sequence, masters };
}
