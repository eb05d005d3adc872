import { secondsToTicks, ticksToSamples, transitionSpan, type Layout } from '@oiseau/core';
import { useEffect, useState } from 'react';
import type { Heard } from '../player/protocol.js';
import { PLAYER_RATE } from '../player/player.js';
import { usePlayer, usePlayerState } from '../player/PlayerContext.js';
import { useStored } from '../ui/useStored.js';

/** Seconds around every transition when all are heard one after the other. */
const ALL_AROUND = 3;
/** Seconds around a transition when somebody counts along. */
const ENDING = 15;

export interface Transitions {
  /** Seconds that are heard before and after a transition. */
  readonly around: number;
  readonly setAround: (seconds: number) => void;
  readonly loop: boolean;
  readonly setLoop: (loop: boolean) => void;
  readonly hearing: boolean;
  /** Hears the transition into a track, or stops it. */
  readonly hear: (index: number) => void;
  /** Hears the ending of the song before a track and a little more, for counting along. */
  readonly hearEnding: (index: number) => void;
  /** Moves what is being heard to where an edit that is not made yet would put it; null: back to where it is. */
  readonly follow: (draft: Layout | null) => void;
  /** Hears all transitions of the album, a few seconds each. */
  readonly hearAll: () => void;
}

/** Hearing transitions: the last seconds of one song and the first of the next, never the whole song. */
export function useTransitions(layout: Layout): Transitions {
  const player = usePlayer();
  const [around, setAround] = useStored('oiseau-around', 4);
  const [loop, setLoop] = useStored('oiseau-loop', false);
  const [heard, setHeard] = useState<{ readonly indexes: readonly number[]; readonly around: number } | null>(
    null,
  );
  const hearing = usePlayerState((state) => state.hearing);
  const isAll = (heard?.indexes.length ?? 0) > 1;

  // An edit moves the transition: the stretch that is heard moves with it, without a restart.
  useEffect(() => {
    if (hearing && heard) player.hearInstead(heardOf(layout, heard.indexes, heard.around, loop && !isAll));
  }, [player, hearing, heard, layout, loop, isAll]);

  const start = (indexes: readonly number[], seconds: number, looped: boolean): void => {
    setHeard({ indexes, around: seconds });
    void player.hear(heardOf(layout, indexes, seconds, looped));
  };
  return {
    around,
    setAround,
    loop,
    setLoop,
    hearing,
    hear: (index) => {
      if (hearing) player.stop();
      else start([index], around, loop);
    },
    hearEnding: (index) => start([index], ENDING, false),
    follow: (draft) => {
      if (hearing && heard)
        player.hearInstead(heardOf(draft ?? layout, heard.indexes, heard.around, loop && !isAll));
    },
    hearAll: () =>
      start(
        layout.tracks.map((_, i) => i),
        ALL_AROUND,
        false,
      ),
  };
}

function heardOf(layout: Layout, indexes: readonly number[], around: number, loop: boolean): Heard {
  const stretches = indexes.flatMap((index) => {
    const span = transitionSpan(layout, index, secondsToTicks(around));
    return span
      ? [{ from: ticksToSamples(span.from, PLAYER_RATE), until: ticksToSamples(span.until, PLAYER_RATE) }]
      : [];
  });
  return { stretches, loop };
}
