import type { Transition } from '@oiseau/album/compare';
import { transitionSpan } from '@oiseau/album/layout';
import { addOverride } from '@oiseau/album/edits';
import { newNeighbours } from '@oiseau/album/model';
import { secondsToTicks, ticksToSamples } from '@oiseau/audio/time';
import { useEffect, useEffectEvent, useState } from 'react';
import { useMay } from '../access/VisitorContext.js';
import { useOpenedAlbum } from '../album/AlbumContext.js';
import { usePlayer } from '../album/PlayerContext.js';
import { PLAYER_RATE } from '../player/player.js';
import { t } from '../ui/messages.js';

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
  const mayWork = useMay('work');
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
    const span = transitionSpan(store.state().part.placement, transition.after.id, secondsToTicks(AROUND));
    if (!span) return;
    const stretch = {
      start: ticksToSamples(span.start, PLAYER_RATE),
      end: ticksToSamples(span.end, PLAYER_RATE),
    };
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
    noteHeard(place);
    play(place.name, place.index + 1);
  });
  const noteHeard = ({ name, index }: Place): void => {
    const id = orders.find((order) => order.name === name)?.transitions[index]?.after.id;
    const edition = store.state().editing.album.editions.find((each) => each.name === name);
    if (!mayWork || id === undefined || !edition) return;
    if (!newNeighbours(store.state().editing.album, edition).includes(id)) return;
    store.editWhole(t('transition heard on “{edition}”', { edition: name }), (album) =>
      addOverride(album, name, { song: id, field: 'gapBefore' }),
    );
  };
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
