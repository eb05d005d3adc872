import {
  createContext,
  useContext,
  useEffect,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
  type ReactNode,
} from 'react';
import {
  alternateNames,
  MAIN,
  sequenceOfAlternate,
  soundKey,
  type Album,
  type Sequence,
} from '@oiseau/album/model';
import { layOutPart, type Part } from '@oiseau/album/layout';
import { useAlbum, useOpenedAlbum } from './AlbumContext.js';
import { addressOf, CONTRACT, type MasterRecord } from '@oiseau/api';
import type { Guest } from '../player/guest.js';
import { Player, type PlayerState } from '../player/player.js';
import type { PlayerProgramme } from '../player/protocol.js';

interface PlayerContextValue {
  readonly player: Player;
  /** What is on the player instead of the album. */
  readonly guest: Guest | null;
  readonly setGuest: (guest: Guest | null) => void;
  readonly setLens: (lens: Lens | null) => void;
  /** Which recording of the album is heard: the masters, or an alternate wherever a song has it. */
  readonly recording: string;
  readonly hearRecording: (name: string) => void;
  /** The number of the part that is heard, or would be. */
  readonly heard: number;
  /** The number of the part that follows after a second; null: none does. */
  readonly follows: number | null;
  /** The view that is open lets something of its own be heard, made of the masters. */
  readonly fixed: boolean;
}

/** The album as a view lets it be heard: with something left out or in the hand, and with what it is compared to. */
export interface Lens {
  readonly sequence: Sequence;
  /** What is heard instead by one key. */
  readonly other: Sequence;
  /** Something is dragged. */
  readonly soon: boolean;
}

const PlayerContext = createContext<PlayerContextValue | null>(null);

function usePlayerContext(): PlayerContextValue {
  const value = useContext(PlayerContext);
  if (!value) throw new Error('usePlayer outside an album');
  return value;
}

export const usePlayer = (): Player => usePlayerContext().player;
export const useGuestOnPlayer = (): Guest | null => usePlayerContext().guest;

/** The recordings that the album can be heard in, the masters first, and which of them is; null where a view has something of its own to be heard. */
export function useRecording(): {
  readonly names: readonly string[];
  readonly recording: string;
  readonly hear: (name: string) => void;
} | null {
  const { recording, hearRecording, fixed } = usePlayerContext();
  const { album } = useAlbum('album');
  const names = useMemo(() => alternateNames(album), [album]);
  return fixed || names.length === 0 ? null : { names: [MAIN, ...names], recording, hear: hearRecording };
}

/** Puts something else on the player for as long as the view is there; Space, the transport and the clock are then its own. */
export function useGuest(guest: Guest | null): void {
  const { setGuest } = usePlayerContext();
  useEffect(() => {
    setGuest(guest);
    return () => setGuest(null);
  }, [guest, setGuest]);
}

/** Lets the album be heard in another way for as long as the view is there. */
export function useLens(lens: Lens): void {
  const { setLens, player } = usePlayerContext();
  useEffect(() => setLens(lens), [lens, setLens]);
  useEffect(
    () => () => {
      setLens(null);
      player.hearOther(false, { own: 1, other: 1 });
    },
    [setLens, player],
  );
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
  const [player] = useState(() => new Player());
  const [guest, setGuest] = useState<Guest | null>(null);
  const [lens, setLens] = useState<Lens | null>(null);
  const [chosen, hearRecording] = useState<string>(MAIN);
  useEffect(() => () => void player.close(), [player]);
  const { mastersById, album: now } = useAlbum('mastersById', 'album');
  // One that no song has any more is not heard.
  const recording = chosen === MAIN || alternateNames(now).includes(chosen) ? chosen : MAIN;
  const fixed = guest !== null || lens !== null;
  const heard = useHeard(player, fixed);
  const album = useAlbumProgramme(recording, heard);
  useEffect(() => {
    if (!guest && album && !lens) player.setProgramme(album);
  }, [player, guest, album, lens]);
  useEffect(() => {
    if (guest || !lens) return;
    const programme = programmeOf(lens.sequence, mastersById);
    if (programme) player.setProgramme({ ...programme, other: lens.other }, lens.soon);
  }, [player, guest, lens, mastersById]);
  useGuestHeard(player, guest);
  usePartOnStart(player, recording, fixed ? null : heard);
  const follows = useGoesOn(player, guest !== null, heard);
  const value = useMemo(
    () => ({ player, guest, setGuest, setLens, recording, hearRecording, heard, follows, fixed }),
    [player, guest, recording, heard, follows, fixed],
  );
  return <PlayerContext value={value}>{children}</PlayerContext>;
}

/** Lets a guest be heard; when it goes, the player is where it was. */
function useGuestHeard(player: Player, guest: Guest | null): void {
  useEffect(() => {
    if (!guest) return undefined;
    const { position } = player.state;
    player.stop();
    player.setProgramme(guest.programme);
    player.seek(guest.playFrom ?? 0);
    if (guest.playFrom !== undefined) void player.play(guest.playFrom);
    return () => {
      player.stop();
      player.seek(position);
    };
  }, [player, guest]);
}

const nothing = (): void => undefined;

/** A player without an album: only guests are heard on it. */
export function LonePlayerProvider({ children }: { children: ReactNode }) {
  const [player] = useState(() => new Player());
  const [guest, setGuest] = useState<Guest | null>(null);
  useEffect(() => () => void player.close(), [player]);
  useGuestHeard(player, guest);
  const value = useMemo(
    () => ({
      ...{ player, guest, setGuest, setLens: nothing, recording: MAIN, hearRecording: nothing },
      ...{ heard: 1, follows: null, fixed: true },
    }),
    [player, guest],
  );
  return <PlayerContext value={value}>{children}</PlayerContext>;
}

/** The part that is heard, or would be: the one that is shown, but while another one plays that one. */
export const useHeardPart = (): Part => {
  const { heard } = usePlayerContext();
  const { parts, part } = useAlbum('parts', 'part');
  return parts[heard - 1] ?? part;
};

/** The silence between two parts, ms: as long as it takes to know that something has ended. */
const BETWEEN_PARTS_MS = 1000;

/**
 * Another part may be looked at while one plays; whatever is played next is of the part that is shown.
 * @returns the number of the part that is heard, or would be
 */
function useHeard(player: Player, fixed: boolean): number {
  const { part } = useAlbum('part');
  const playing = useSyncExternalStore(player.subscribe, () => player.state.playing);
  const starts = useSyncExternalStore(player.subscribe, () => player.state.starts);
  const [heard, setHeard] = useState({ number: part.number, starts });
  // React's way to keep a value as long as its key stays the same: set during rendering, before anything is shown.
  const follows = fixed || !playing || starts !== heard.starts;
  if (follows && (heard.number !== part.number || heard.starts !== starts))
    setHeard({ number: part.number, starts });
  const number = follows ? part.number : heard.number;
  const before = useRef(number);
  useEffect(() => {
    // A place on one part is none on another.
    if (before.current !== number && !player.state.playing) player.seek(0);
    before.current = number;
  }, [player, number]);
  return number;
}

/** Gives the player the part that is shown before it plays anything, and not with the next drawing only. @param heard null: it has something else */
function usePartOnStart(player: Player, recording: string, heard: number | null): void {
  const { store } = useOpenedAlbum();
  useEffect(() => {
    player.onStart = () => {
      const { part, mastersById } = store.state();
      if (heard === null || part.number === heard) return;
      const programme = programmeOf(sequenceOfAlternate(part, recording), mastersById);
      if (programme) player.setProgramme(programme);
    };
    return () => {
      player.onStart = undefined;
    };
  }, [player, store, recording, heard]);
}

/** The part that follows after a second, while it is silent between two; null else. */
export const useFollowing = (): Part | null => {
  const { follows } = usePlayerContext();
  const { parts } = useAlbum('parts');
  return follows === null ? null : (parts[follows - 1] ?? null);
};

/** At the end of a part the next one is shown and played, after a second. @returns its number meanwhile */
function useGoesOn(player: Player, hasGuest: boolean, heard: number): number | null {
  const { parts, showPart } = useAlbum('parts', 'showPart');
  const [follows, setFollows] = useState<number | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  // Whoever leaves does not hear the next part begin.
  useEffect(() => () => clearTimeout(timer.current), []);
  const next = !hasGuest && heard < parts.length ? heard + 1 : null;
  useEffect(() => {
    player.onEnd = () => {
      if (next === null) return;
      showPart(next);
      setFollows(next);
      timer.current = setTimeout(() => {
        setFollows(null);
        // Somebody may have pressed play meanwhile.
        if (!player.state.playing) void player.play(0);
      }, BETWEEN_PARTS_MS);
    };
    return () => {
      player.onEnd = undefined;
    };
  }, [player, next, showPart]);
  return follows;
}

/**
 * Lets an edit be heard before it is made: what is being heard of the album goes over to `album`, as it would sound, and
 * with null back to the album as it is.
 */
export function usePreview(): (album: Album | null) => void {
  const { mastersById, facts, album: current, part } = useAlbum('mastersById', 'facts', 'album', 'part');
  const { player, recording } = usePlayerContext();
  return (draft) => {
    if (draft && !player.state.hearing) return;
    const album = draft ?? current;
    const heard = sequenceOfAlternate(layOutPart(album, facts, part.number), recording);
    const programme = programmeOf(heard, mastersById);
    if (programme) player.setProgramme(programme, draft !== null);
  };
}

/** A sequence as the player needs it; null while a master is not known. */
function programmeOf(
  sequence: Sequence,
  mastersById: ReadonlyMap<string, MasterRecord>,
): PlayerProgramme | null {
  const played = new Set(sequence.songs.map(({ region }) => region.master));
  const masters = new Map(
    [...played].flatMap((master) => {
      const found = mastersById.get(master);
      return found
        ? [
            [
              master,
              { url: addressOf(CONTRACT.masterAudio, { params: { sha256: master } }), info: found.info },
            ] as const,
          ]
        : [];
    }),
  );
  return masters.size < played.size ? null : { sequence, masters };
}

/** The album in hand for the player; a new one only when something changes that is heard. */
function useAlbumProgramme(recording: string, heard: number): PlayerProgramme | null {
  const { parts, part: shown, mastersById } = useAlbum('parts', 'part', 'mastersById');
  const part = parts[heard - 1] ?? shown;
  const { programme, sound } = useMemo(() => {
    const sequence = sequenceOfAlternate(part, recording);
    const made = programmeOf(sequence, mastersById);
    // Titles and codes change the album too; only what is heard makes a new programme.
    return { programme: made, sound: made ? soundKey(sequence) : '' };
  }, [part, recording, mastersById]);
  const [known, setKnown] = useState({ sound, programme });
  // React's way to keep a value as long as its key stays the same: set during rendering, before anything is shown.
  if (known.sound !== sound) setKnown({ sound, programme });
  return known.sound === sound ? known.programme : programme;
}
