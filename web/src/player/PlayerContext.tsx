import {
  createContext,
  useContext,
  useEffect,
  useRef,
  useState,
  useSyncExternalStore,
  type ReactNode,
} from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { Player, type PlayerState } from './player.js';
import type { PlayerProgramme } from './protocol.js';

const PlayerContext = createContext<Player | null>(null);

export function usePlayer(): Player {
  const player = useContext(PlayerContext);
  if (!player) throw new Error('usePlayer outside an album');
  return player;
}

/** The player's state; `select` keeps a view from drawing again for what it does not show. */
export function usePlayerState<T extends string | number | boolean | null>(
  select: (state: PlayerState) => T,
): T {
  const player = usePlayer();
  return useSyncExternalStore(player.subscribe, () => select(player.state));
}

/** Keeps one player for the album in hand and hands it every edit that changes the sound. */
export function PlayerProvider({ children }: { children: ReactNode }) {
  const { sequence, album, mastersById } = useAlbum();
  const [player] = useState(() => new Player());
  useEffect(() => () => void player.close(), [player]);

  const masters = album.tracks.flatMap(({ master }): PlayerProgramme['masters'] => {
    const found = mastersById.get(master);
    return found ? [{ url: `/api/masters/${master}/audio`, info: found.info }] : [];
  });
  // Titles and codes change the album too; only what is heard makes a new programme.
  const sound = JSON.stringify({
    masters: masters.map(({ url }) => url),
    endPause: sequence.endPause,
    markLead: sequence.markLead,
    tracks: sequence.tracks.map((track) => [
      track.in,
      track.out,
      track.gapBefore,
      track.gainDb,
      track.fadeIn,
      track.fadeOut,
    ]),
  });
  const lastSound = useRef('');
  useEffect(() => {
    if (sound === lastSound.current || masters.length < sequence.tracks.length) return;
    lastSound.current = sound;
    player.setProgramme({ sequence, masters });
  });

  return <PlayerContext value={player}>{children}</PlayerContext>;
}
