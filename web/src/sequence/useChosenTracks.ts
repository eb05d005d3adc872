import { trackAtIndex, type Album } from '@oiseau/core';
import { useMemo, useState } from 'react';

/** The tracks somebody has chosen in the ledger: always one in hand, often only that. */
export interface ChosenTracks {
  /** The one in hand, whose transition lies on the Bench; −1 is the hidden song. */
  readonly index: number;
  /** All that are chosen. */
  readonly ids: ReadonlySet<string>;
  /** Takes one in hand and lets go of the others. */
  readonly choose: (index: number) => void;
  /** Takes one in hand; where it is among the chosen, they stay chosen. */
  readonly visit: (index: number) => void;
  /** Chooses everything from where the choice began to here. */
  readonly extend: (index: number) => void;
  /** Chooses one as well, or no longer. */
  readonly toggle: (index: number) => void;
  readonly all: () => void;
}

interface Choice {
  /** Of the one in hand; it stays in hand when it moves. */
  readonly id: string;
  /** Where it was: what stands there is in hand once it is gone. */
  readonly index: number;
  /** Where a range began. */
  readonly anchor: number;
  readonly ids: ReadonlySet<string>;
}

/** @param first the track in hand at the start */
export function useChosenTracks(album: Album, first: number): ChosenTracks {
  const { tracks } = album;
  const idAt = (at: number): string => trackAtIndex(album, at)?.id ?? '';
  const [choice, setChoice] = useState<Choice>({
    id: idAt(first),
    index: first,
    anchor: first,
    ids: new Set(),
  });
  const least = album.hidden ? -1 : 0;
  const clamp = (index: number): number => Math.max(least, Math.min(tracks.length - 1, index));
  const index = indexOf(album, choice.id) ?? clamp(choice.index);
  const inHand = idAt(index);
  const ids = useMemo(() => chosenIds(album, choice.ids, inHand), [album, choice.ids, inHand]);

  const take = (at: number, anchor: number, others: ReadonlySet<string>): void =>
    setChoice({ id: idAt(at), index: at, anchor, ids: others });
  const choose = (at: number): void => take(clamp(at), clamp(at), new Set([idAt(clamp(at))]));
  return {
    index,
    ids,
    choose,
    visit: (at) => {
      if (ids.has(idAt(at))) take(at, choice.anchor, ids);
      else choose(at);
    },
    extend: (at) => {
      const to = Math.max(0, clamp(at));
      const from = Math.max(0, clamp(choice.anchor));
      const range = tracks.slice(Math.min(from, to), Math.max(from, to) + 1);
      take(to, from, new Set(range.map(({ id }) => id)));
    },
    toggle: (at) => {
      const others = new Set(ids);
      if (!others.delete(idAt(at))) take(at, at, others.add(idAt(at)));
      else take(at === index ? firstOf(album, others) : index, at, others);
    },
    all: () => take(index, choice.anchor, new Set(tracks.map(({ id }) => id))),
  };
}

/** The place of a track, −1 for the hidden song; null when it is gone. */
function indexOf({ hidden, tracks }: Album, id: string): number | null {
  if (hidden?.id === id) return -1;
  const found = tracks.findIndex((track) => track.id === id);
  return found < 0 ? null : found;
}

/** What is chosen and still there; the one in hand alone when it is not among them. */
function chosenIds(album: Album, ids: ReadonlySet<string>, inHand: string): ReadonlySet<string> {
  if (!ids.has(inHand)) return new Set([inHand]);
  return new Set(
    [album.hidden, ...album.tracks].flatMap((track) => (track && ids.has(track.id) ? [track.id] : [])),
  );
}

const firstOf = ({ tracks }: Album, ids: ReadonlySet<string>): number =>
  Math.max(
    0,
    tracks.findIndex(({ id }) => ids.has(id)),
  );
