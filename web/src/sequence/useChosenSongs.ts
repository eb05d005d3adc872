import type { PartSongs } from '@oiseau/core';
import { useMemo, useState } from 'react';

/** The songs somebody has chosen in the ledger: always one in hand, often only that. */
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

/** @param first id of the song in hand at the start; where there is none such, it is track 1 */
export function useChosenSongs(part: Pick<PartSongs, 'songs' | 'tracks'>, first: string | null): ChosenSongs {
  const { songs, tracks } = part;
  const placeOf = (id: string): number => songs.findIndex((song) => song.id === id);
  const [choice, setChoice] = useState<Choice>(() => {
    const id = songs.find((song) => song.id === first)?.id ?? tracks[0]?.id ?? '';
    return { id, place: placeOf(id), anchor: id, ids: new Set() };
  });
  const there = placeOf(choice.id) >= 0;
  const id = there ? choice.id : (songs[Math.max(0, Math.min(songs.length - 1, choice.place))]?.id ?? '');
  const ids = useMemo(() => chosenIds(songs, choice.ids, id), [songs, choice.ids, id]);

  const take = (of: string, anchor: string, others: ReadonlySet<string>): void =>
    setChoice({ id: of, place: placeOf(of), anchor, ids: others });
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

/** What is chosen and still there; the one in hand alone when it is not among them. */
function chosenIds(songs: PartSongs['songs'], ids: ReadonlySet<string>, inHand: string): ReadonlySet<string> {
  if (!ids.has(inHand)) return new Set([inHand]);
  return new Set(songs.map((song) => song.id).filter((id) => ids.has(id)));
}
