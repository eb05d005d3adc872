import type { Part } from '@oiseau/album/layout';
import { alternateNames, MAIN } from '@oiseau/album/model';
import {
  createContext,
  useContext,
  useEffect,
  useMemo,
  useState,
  useSyncExternalStore,
  type ReactNode,
} from 'react';
import type { Guest } from '../player/guest.js';
import { Player, type PlayerState } from '../player/player.js';
import { isFixed, Playback, type HeardStore, type Lens, type PlaybackState } from '../workspace/playback.js';
import { useAlbum, useOpenedAlbum } from './AlbumContext.js';

const PlaybackContext = createContext<Playback | null>(null);

function usePlayback(): Playback {
  const playback = useContext(PlaybackContext);
  if (!playback) throw new Error('usePlayer outside an album');
  return playback;
}

/** Something of what the player has; a view is drawn again when that is another. */
function usePlaybackState<T>(select: (state: PlaybackState) => T): T {
  const playback = usePlayback();
  return useSyncExternalStore(playback.subscribe, () => select(playback.state));
}

export const usePlayer = (): Player => usePlayback().player;
export const useGuestOnPlayer = (): Guest | null => usePlaybackState(({ guest }) => guest);

/** The player's state; `select` keeps a view from drawing again for what it does not show. */
export function usePlayerState<T extends string | number | boolean | null>(
  select: (state: PlayerState) => T,
): T {
  const player = usePlayer();
  return useSyncExternalStore(player.subscribe, () => select(player.state));
}

/** The recordings that the album can be heard in, the masters first, and which of them is; null where a view has something of its own to be heard. */
export function useRecording(): {
  readonly names: readonly string[];
  readonly recording: string;
  readonly hear: (name: string) => void;
} | null {
  const playback = usePlayback();
  const recording = usePlaybackState((state) => state.recording);
  const fixed = usePlaybackState(isFixed);
  const { album } = useAlbum('album');
  const names = useMemo(() => alternateNames(album), [album]);
  if (fixed || names.length === 0) return null;
  return { names: [MAIN, ...names], recording, hear: (name) => playback.hearRecording(name) };
}

/** Puts something else on the player for as long as the view is there; Space, the transport and the clock are then its own. */
export function useGuest(guest: Guest | null): void {
  const playback = usePlayback();
  useEffect(() => {
    playback.setGuest(guest);
    return () => playback.setGuest(null);
  }, [guest, playback]);
}

/** Lets the album be heard in another way for as long as the view is there. */
export function useLens(lens: Lens): void {
  const playback = usePlayback();
  useEffect(() => playback.setLens(lens), [lens, playback]);
  useEffect(
    () => () => {
      playback.setLens(null);
      playback.player.hearOther(false, { own: 1, other: 1 });
    },
    [playback],
  );
}

/** The part that is heard, or would be: the one that is shown, but while another one plays that one. */
export const useHeardPart = (): Part => {
  const heard = usePlaybackState((state) => state.heard);
  const { parts, part } = useAlbum('parts', 'part');
  return parts[heard - 1] ?? part;
};

/** The part that follows after a second, while it is silent between two; null else. */
export const useFollowing = (): Part | null => {
  const follows = usePlaybackState((state) => state.follows);
  const { parts } = useAlbum('parts');
  return follows === null ? null : (parts[follows - 1] ?? null);
};

/** The player of the album that is open. */
export function PlayerProvider({ children }: { readonly children: ReactNode }) {
  return <PlayerOf store={useOpenedAlbum().store}>{children}</PlayerOf>;
}

/** A player without an album: only guests are heard on it. */
export function LonePlayerProvider({ children }: { readonly children: ReactNode }) {
  return <PlayerOf store={null}>{children}</PlayerOf>;
}

function PlayerOf({ store, children }: { readonly store: HeardStore | null; readonly children: ReactNode }) {
  const [playback] = useState(() => new Playback(new Player(), store));
  useEffect(() => {
    const leave = playback.attend();
    return () => {
      leave();
      void playback.player.close();
    };
  }, [playback]);
  return <PlaybackContext value={playback}>{children}</PlaybackContext>;
}
