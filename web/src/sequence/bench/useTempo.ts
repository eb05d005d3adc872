import { addressOf, CONTRACT } from '@oiseau/api';
import {
  editMarks,
  samples,
  samplesToTicks,
  secondsToTicks,
  tempoOfTaps,
  TEMPO_STRETCH_S,
  ticks,
  ticksToSamples,
  ticksToSeconds,
  type Song,
  type Tempo,
  type Ticks,
} from '@oiseau/core';
import { useRef, useState } from 'react';
import { useAlbum } from '../../album/AlbumContext.js';
import { PLAYER_RATE } from '../../player/player.js';
import { usePlayer } from '../../player/PlayerContext.js';
import { useNotices } from '../../ui/Notices.js';
import { changeWords } from '../change-words.js';
import type { TempoAnswer, TempoQuestion } from './tempo.worker.js';

/** After so long without a tap, counting begins anew; seconds. */
const NEW_COUNT_S = 3;
const USUAL_BAR = 4;

export interface TempoInHand {
  /** Taps of the count under way. */
  readonly taps: number;
  readonly estimating: boolean;
  /** A beat at the place that is heard. */
  readonly tap: () => void;
  readonly estimate: () => void;
  readonly set: (tempo: Tempo | null, mergeKey?: string) => void;
}

/**
 * The tempo in which a song ends: tapped while it plays, estimated from its last seconds, or corrected.
 * @param song the song that ends, `start` where it begins on the disc
 */
export function useTempo(song: Song | undefined, start: Ticks | undefined): TempoInHand {
  const { edit, mastersById } = useAlbum('edit', 'mastersById');
  const { tell, complain } = useNotices();
  const player = usePlayer();
  const counted = useRef<{ readonly id: string; times: number[] } | null>(null);
  const [taps, setTaps] = useState(0);
  const [estimating, setEstimating] = useState(false);

  const set = (tempo: Tempo | null, mergeKey?: string): void => {
    if (song) edit(changeWords, (album) => editMarks(album, song.id, { tempo }), mergeKey);
  };
  const tap = (): void => {
    if (!song || start === undefined) return;
    const onDisc = player.heardNow() / PLAYER_RATE;
    const now = onDisc - ticksToSeconds(ticks(start - song.region.in));
    const last = counted.current?.times.at(-1);
    const goesOn =
      counted.current?.id === song.id && last !== undefined && now > last && now - last < NEW_COUNT_S;
    const times = goesOn ? [...(counted.current?.times ?? []), now] : [now];
    counted.current = { id: song.id, times };
    setTaps(times.length);
    const found = tempoOfTaps(times);
    if (!found) return;
    const bar = song.marks.tempo?.bar ?? USUAL_BAR;
    set(
      { bpm: found.bpm, beat: secondsToTicks(Math.max(0, found.firstBeat)), bar },
      `tap ${song.id} ${times[0]}`,
    );
  };

  const estimate = (): void => {
    const master = song && mastersById.get(song.region.master);
    if (!song || !master) return;
    const { region } = song;
    const { info, measurement } = master;
    const bar = song.marks.tempo?.bar ?? USUAL_BAR;
    // What comes after the sound has died away holds no beat.
    const loudEnd = measurement?.edges[0]?.end ?? info.length;
    const out = Math.min(loudEnd, region.out === null ? info.length : ticksToSamples(region.out, info.rate));
    const first = ticksToSamples(region.in, info.rate);
    const from = Math.max(first, out - Math.round(TEMPO_STRETCH_S * info.rate));
    const worker = new Worker(new URL('./tempo.worker.ts', import.meta.url), { type: 'module' });
    const finish = (): void => {
      worker.terminate();
      setEstimating(false);
    };
    worker.onmessage = ({ data }: MessageEvent<TempoAnswer>) => {
      finish();
      if ('failure' in data) complain(new Error(data.failure));
      else if (!data.tempo) tell(`No beat was found at the end of “${song.title}”. Tap it while it plays.`);
      else {
        const beat = ticks(samplesToTicks(samples(from), info.rate) + secondsToTicks(data.tempo.firstBeat));
        set({ bpm: data.tempo.bpm, beat, bar });
      }
    };
    worker.onerror = ({ message }) => {
      finish();
      complain(new Error(`The tempo could not be estimated: ${message}`));
    };
    setEstimating(true);
    const question: TempoQuestion = {
      url: addressOf(CONTRACT.masterAudio, { params: master }),
      info,
      from,
      count: Math.max(1, out - from),
      bar,
    };
    worker.postMessage(question);
  };
  return { taps, estimating, tap, estimate, set };
}
