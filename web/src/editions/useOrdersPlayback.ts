import type { Transition } from '@oiseau/album/compare';
import { useEffect, useEffectEvent, useState } from 'react';
import { useOpenedAlbum } from '../album/AlbumContext.js';
import { usePlayer } from '../album/PlayerContext.js';
import { transitionStretch } from '../album/transition-stretch.js';
import { useNewNeighbours } from '../album/useNewNeighbours.js';
import { PLAYER_RATE } from '../player/player.js';

/** Seconds around each transition. */
const AROUND = 4;
/** A stretch that ended this close to its end, in samples, wasn't stopped by hand. */
const NEAR_END = PLAYER_RATE / 2;

/** The transitions of one edition that differ from another’s. */
export interface Order {
  readonly name: string;
  readonly transitions: readonly Transition[];
}

/** A place in an order. */
interface Place {
  readonly name: string;
  readonly index: number;
}

/** Playing the transitions in which two running orders differ, one after another, in either of them. */
export function useOrdersPlayback(orders: readonly Order[]) {
  const { store } = useOpenedAlbum();
  const player = usePlayer();
  const { keepGap } = useNewNeighbours();
  const [place, setPlace] = useState<Place | null>(null);
  const [end, setEnd] = useState(0);
  const play = (name: string, index: number): void => {
    const transition = orders.find((order) => order.name === name)?.transitions[index];
    if (!transition) {
      setPlace(null);
      return;
    }
    if (store.state().edition !== name) store.showEdition(name);
    store.showPart(transition.part);
    const stretch = transitionStretch(store.state().part.placement, transition.after.id, AROUND);
    if (!stretch) return;
    setPlace({ name, index });
    setEnd(stretch.end);
    void player.hear({ stretches: [stretch], loop: false });
  };
  const goOn = useEffectEvent(() => {
    const { playing, position } = player.state;
    if (playing || !place) return;
    if (position < end - NEAR_END) {
      setPlace(null);
      return;
    }
    const heard = orders.find(({ name }) => name === place.name)?.transitions[place.index];
    if (heard && store.state().edition === place.name) keepGap(heard.after.id);
    play(place.name, place.index + 1);
  });
  useEffect(() => player.subscribe(() => goOn()), [player]);
  return {
    place,
    play,
    stop: (): void => {
      setPlace(null);
      player.stop();
    },
    /** The same place in the other order. */
    swap: (): void => {
      const from = place?.name ?? store.state().edition;
      const other = orders.find(({ name }) => name !== from);
      if (other) play(other.name, Math.min(place?.index ?? 0, Math.max(0, other.transitions.length - 1)));
    },
  };
}
export type OrdersPlayback = ReturnType<typeof useOrdersPlayback>;
