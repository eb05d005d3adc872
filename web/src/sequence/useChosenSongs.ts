import type { PartSongs } from '@oiseau/album/model';
import { useMemo, useState } from 'react';

/** The tracks selected in the track table: always a current one, often only that. */
export interface ChosenSongs {
  /** The one in hand, whose transition lies on the Bench; empty in an album without songs. */
  readonly id: string;
  /** All that are chosen. */
  readonly ids: ReadonlySet<string>;
  /** Takes one in hand and lets go of the others. */
  readonly choose: (id: string) => void;
  /** Takes one in hand; where it is among the chosen, they stay chosen. */
  readonly visit: (id: string) => void;
  /** Chooses every track from where the choice began to here. */
  readonly extend: (id: string) => void;
  /** Chooses one as well, or no longer. */
  readonly toggle: (id: string) => void;
  /** Chooses all tracks. */
  readonly all: () => void;
}

interface Choice {
  /** The one in hand; it stays in hand when it moves. */
  readonly id: string;
  /** Where it was: what stands there is in hand once it is gone. */
  readonly place: number;
  /** Where a range began. */
  readonly anchor: string;
  readonly ids: ReadonlySet<string>;
}

/**
 * @param all every song that can be chosen, in order
 * @param within the songs of the part in hand: the song in hand is one of them
 * @param first id of the song in hand at the start; where there is none such, it is track 1
 * @param onTake is told of the song that is taken in hand
 */
export function useChosenSongs(
  { songs, tracks }: Pick<PartSongs, 'songs' | 'tracks'>,
  within: Pick<PartSongs, 'songs' | 'tracks'>,
  first: string | null,
  onTake: (id: string) => void,
): ChosenSongs {
  const placeOf = (id: string): number => songs.findIndex((song) => song.id === id);
  const [choice, setChoice] = useState<Choice>(() => {
    const id = songs.find((song) => song.id === first)?.id ?? within.tracks[0]?.id ?? '';
    return { id, place: placeOf(id), anchor: id, ids: new Set() };
  });
  const id = inHandOf(songs, within, choice);
  const ids = useMemo(() => chosenIds(songs, choice.ids, id), [songs, choice.ids, id]);

  const take = (of: string, anchor: string, others: ReadonlySet<string>): void => {
    onTake(of);
    setChoice({ id: of, place: placeOf(of), anchor, ids: others });
  };
  const choose = (of: string): void => {
    if (placeOf(of) >= 0) take(of, of, new Set([of]));
  };
  return {
    id,
    ids,
    choose,
    visit: (of) => {
      if (ids.has(of)) take(of, choice.anchor, ids);
      else choose(of);
    },
    extend: (of) => {
      const [to, from] = [of, choice.anchor].map((each) =>
        Math.max(
          0,
          tracks.findIndex((track) => track.id === each),
        ),
      ) as [number, number];
      const range = tracks.slice(Math.min(from, to), Math.max(from, to) + 1);
      take(tracks[to]?.id ?? id, tracks[from]?.id ?? id, new Set(range.map((track) => track.id)));
    },
    toggle: (of) => {
      const others = new Set(ids);
      if (!others.delete(of)) take(of, of, others.add(of));
      else take(of === id ? (songs.find((song) => others.has(song.id))?.id ?? of) : id, of, others);
    },
    all: () => take(id, choice.anchor, new Set(tracks.map((track) => track.id))),
  };
}

/** The song in hand: as it was chosen; what stands in its place once it is gone; the first of a part that was turned to. */
function inHandOf(
  songs: PartSongs['songs'],
  within: Pick<PartSongs, 'songs' | 'tracks'>,
  { id, place }: Choice,
): string {
  const isWithin = (of: string | undefined): boolean => within.songs.some((song) => song.id === of);
  if (isWithin(id)) return id;
  const instead = songs[Math.max(0, Math.min(songs.length - 1, place))]?.id;
  const isGone = !songs.some((song) => song.id === id);
  return (isGone && isWithin(instead) ? instead : (within.tracks[0] ?? within.songs[0])?.id) ?? '';
}

/** What is chosen and still there; the one in hand alone when it is not among them. */
function chosenIds(songs: PartSongs['songs'], ids: ReadonlySet<string>, inHand: string): ReadonlySet<string> {
  if (!ids.has(inHand)) return new Set([inHand]);
  return new Set(songs.map((song) => song.id).filter((id) => ids.has(id)));
}
