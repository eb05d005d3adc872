import { addressOf, CONTRACT } from '@oiseau/api';
import { editMarks } from '@oiseau/album/edits';
import { FASTEST_BPM, SLOWEST_BPM, tempoOfTaps, type Song, type Tempo } from '@oiseau/album/model';
import {
  samples,
  samplesToTicks,
  secondsToTicks,
  ticks,
  ticksToSamples,
  ticksToSeconds,
  type Ticks,
} from '@oiseau/audio/time';
import type { TempoCertainty } from '@oiseau/audio/measure';
import { useRef, useState } from 'react';
import { useAlbum } from '../../album/AlbumContext.js';
import { PLAYER_RATE } from '../../player/player.js';
import { usePlayer } from '../../album/PlayerContext.js';
import { useNotices } from '../../ui/Notices.js';
import { changeWords } from '../change-words.js';
import type { TempoAnswer, TempoQuestion } from './tempo.worker.js';
import { t } from '../../ui/messages.js';

/** Less of a song holds no beat; seconds. */
const LEAST_BEFORE_S = 6;
/** After so long without a tap, counting begins anew; seconds. */
const NEW_COUNT_S = 3;
const USUAL_BAR = 4;

/** A beat that was found, and not tapped or typed. */
export interface Found {
  readonly id: string;
  readonly bpm: number;
  readonly certainty: TempoCertainty;
  readonly fromSeconds: number;
  readonly toSeconds: number;
}

export interface TempoInHand {
  /** Taps of the count under way. */
  readonly taps: number;
  readonly estimating: boolean;
  /** What was found last of this song, as long as it stands so: how sure, and in what seconds of its master. */
  readonly found: Found | null;
  /** A beat at the place that is heard. */
  readonly tap: () => void;
  /** Finds the beat of the ending; once more, of what comes before the stretch that it was found in. */
  readonly estimate: () => void;
  readonly half: () => void;
  readonly double: () => void;
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
  const [found, setFound] = useState<Found | null>(null);
  const tempoNow = song?.marks.tempo ?? null;
  const stands = found?.id === song?.id && found?.bpm === tempoNow?.bpm ? found : null;

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
    // Asked for once more, it is looked for before the place where it was found.
    const again = stands ? Math.round(stands.fromSeconds * info.rate) : null;
    const before = again !== null && again - first > LEAST_BEFORE_S * info.rate ? again : out;
    const worker = new Worker(new URL('./tempo.worker.ts', import.meta.url), { type: 'module' });
    const finish = (): void => {
      worker.terminate();
      setEstimating(false);
    };
    worker.onmessage = ({ data }: MessageEvent<TempoAnswer>) => {
      finish();
      if ('failure' in data) complain(new Error(data.failure));
      else if (!data.tempo)
        tell(
          t('No beat was found in the last three minutes of “{title}”. Tap it while it plays.', {
            title: song.title,
          }),
        );
      else {
        const { bpm, certainty, firstBeat, start: from, end } = data.tempo;
        const beat = ticks(samplesToTicks(samples(from), info.rate) + secondsToTicks(firstBeat));
        set({ bpm, beat, bar });
        setFound({
          ...{ id: song.id, bpm, certainty },
          ...{ fromSeconds: from / info.rate, toSeconds: end / info.rate },
        });
      }
    };
    worker.onerror = ({ message }) => {
      finish();
      complain(new Error(t('The tempo could not be estimated: {message}', { message })));
    };
    setEstimating(true);
    const question: TempoQuestion = {
      url: addressOf(CONTRACT.masterAudio, { params: master }),
      info,
      first,
      before,
      bar,
    };
    worker.postMessage(question);
  };
  /** The same beats counted half or twice as fast. */
  const timesAsFast = (times: number): void => {
    const bpm = (tempoNow?.bpm ?? 0) * times;
    if (tempoNow && bpm >= SLOWEST_BPM && bpm <= FASTEST_BPM) set({ ...tempoNow, bpm });
  };
  return {
    ...{ taps, estimating, found: stands, tap, estimate, set },
    half: () => timesAsFast(1 / 2),
    double: () => timesAsFast(2),
  };
}
