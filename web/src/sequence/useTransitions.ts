import { ticksToSamples } from '@oiseau/audio/time';
import type { Placement } from '@oiseau/album/layout';
import { useEffect, useEffectEvent, useState } from 'react';
import type { Heard } from '../player/protocol.js';
import { PLAYER_RATE } from '../player/player.js';
import { usePlayer, usePlayerState } from '../album/PlayerContext.js';
import { transitionStretch } from '../album/transition-stretch.js';
import { useNewNeighbours } from '../album/useNewNeighbours.js';
import { useStored } from '../ui/useStored.js';

/** Seconds around every transition when all are heard one after the other. */
const ALL_AROUND = 3;
/** Seconds around a transition for counting along. */
const ENDING = 15;

export interface Transitions {
  /** Seconds that are heard before and after a transition. */
  readonly around: number;
  readonly setAround: (seconds: number) => void;
  readonly loop: boolean;
  readonly setLoop: (loop: boolean) => void;
  readonly hearing: boolean;
  /** Hears the transition into a song, or stops it. */
  readonly hear: (id: string) => void;
  /** Hears the ending of the song before a song and a little more, for counting along. */
  readonly hearEnding: (id: string) => void;
  /** Moves what is being heard to where an edit that is not made yet would put it; null: back to where it is. */
  readonly follow: (draft: Placement | null) => void;
  /** Hears the transitions into some songs, a few seconds each. */
  readonly hearAll: (ids: readonly string[]) => void;
}

/** Hearing transitions: the last seconds of one song and the first of the next, never the whole song. */
export function useTransitions(placement: Placement): Transitions {
  const player = usePlayer();
  const [around, setAround] = useStored('oiseau-around', 4);
  const [loop, setLoop] = useStored('oiseau-loop', false);
  const [heard, setHeard] = useState<{ readonly ids: readonly string[]; readonly around: number } | null>(
    null,
  );
  const hearing = usePlayerState((state) => state.hearing);
  const isAll = (heard?.ids.length ?? 0) > 1;

  // An edit moves the transition: the stretch that is heard moves with it, without a restart.
  useEffect(() => {
    const moved = hearing && heard && heardOf(placement, heard.ids, heard.around, loop && !isAll);
    // Another part may be looked at meanwhile.
    if (moved && moved.stretches.length > 0) player.hearInstead(moved);
  }, [player, hearing, heard, placement, loop, isAll]);

  // A new pair of neighbours counts as heard once a second of the later track has played.
  const { ids: unheard, keepGap } = useNewNeighbours();
  const noteHeard = useEffectEvent((position: number) => {
    const id = heard?.ids.find((each) => {
      const start = placement.songs.get(each)?.start;
      const past = start === undefined ? -1 : position - ticksToSamples(start, PLAYER_RATE);
      return unheard.has(each) && past > PLAYER_RATE && past < 2 * PLAYER_RATE;
    });
    if (id !== undefined) keepGap(id);
  });
  const isNew = hearing && unheard.size > 0;
  useEffect(
    () => (isNew ? player.subscribe(() => noteHeard(player.state.position)) : undefined),
    [isNew, player],
  );

  const start = (ids: readonly string[], seconds: number, looped: boolean): void => {
    setHeard({ ids, around: seconds });
    void player.hear(heardOf(placement, ids, seconds, looped));
  };
  return {
    around,
    setAround,
    loop,
    setLoop,
    hearing,
    hear: (id) => {
      if (hearing) player.stop();
      else start([id], around, loop);
    },
    hearEnding: (id) => start([id], ENDING, false),
    follow: (draft) => {
      if (hearing && heard)
        player.hearInstead(heardOf(draft ?? placement, heard.ids, heard.around, loop && !isAll));
    },
    hearAll: (ids) => start(ids, ALL_AROUND, false),
  };
}

function heardOf(placement: Placement, ids: readonly string[], around: number, loop: boolean): Heard {
  const stretches = ids.flatMap((id) => transitionStretch(placement, id, around) ?? []);
  return { stretches, loop };
}
