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
  readonly index: number;
  /** Where a range began. */
  readonly anchor: number;
  readonly ids: ReadonlySet<string>;
}

export function useChosenTracks(album: Album): ChosenTracks {
  const [choice, setChoice] = useState<Choice>({ index: 0, anchor: 0, ids: new Set() });
  const { tracks } = album;
  const least = album.hidden ? -1 : 0;
  const clamp = (index: number): number => Math.max(least, Math.min(tracks.length - 1, index));
  const index = clamp(choice.index);
  const idAt = (at: number): string => trackAtIndex(album, at)?.id ?? '';
  const inHand = idAt(index);
  const ids = useMemo(() => chosenIds(album, choice.ids, inHand), [album, choice.ids, inHand]);

  const choose = (at: number): void =>
    setChoice({ index: clamp(at), anchor: clamp(at), ids: new Set([idAt(clamp(at))]) });
  return {
    index,
    ids,
    choose,
    visit: (at) => {
      if (ids.has(idAt(at))) setChoice({ ...choice, index: at, ids });
      else choose(at);
    },
    extend: (at) => {
      const to = Math.max(0, clamp(at));
      const from = Math.max(0, clamp(choice.anchor));
      const range = tracks.slice(Math.min(from, to), Math.max(from, to) + 1);
      setChoice({ index: to, anchor: from, ids: new Set(range.map(({ id }) => id)) });
    },
    toggle: (at) => {
      const others = new Set(ids);
      if (others.delete(idAt(at)))
        setChoice({ index: at === index ? firstOf(album, others) : index, anchor: at, ids: others });
      else setChoice({ index: at, anchor: at, ids: others.add(idAt(at)) });
    },
    all: () => setChoice({ ...choice, index, ids: new Set(tracks.map(({ id }) => id)) }),
  };
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
