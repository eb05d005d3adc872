import { framesOfMaster } from '@oiseau/formats/cutting';
import { outOf, type Song } from '@oiseau/album/model';
import { ticksToSeconds, type Ticks } from '@oiseau/audio/time';
import { useEffect, useMemo, useState } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { useOutlines } from './Outlines.js';
import type { ReadingAnswer, ReadingQuestion } from './reading.worker.js';

/** How long recordings are wanted to be cut. Lengths in minutes. */
export interface ReadingWish {
  readonly about: number;
  readonly least: number;
  /** A silence lies so far under the loudness of its recording, dB. */
  readonly under: number;
  /** Seconds. */
  readonly shortestSilence: number;
}

export interface Reading {
  /** Recordings that are longer than two tracks of the wanted length. */
  readonly long: readonly Song[];
  /** Where each is cut; null while that is not known. */
  readonly cuts: ReadonlyMap<string, readonly Ticks[]> | null;
  /** Recordings that are done, of those there are. */
  readonly done: number;
  /** Recordings that are not measured yet. */
  readonly waiting: number;
}

/** Finds cuts in the long recordings of the album, in another thread, anew for every wish. */
export function useReading(wish: ReadingWish): Reading {
  const { album, facts, mastersById } = useAlbum('album', 'facts', 'mastersById');
  const outlines = useOutlines();
  const long = useMemo(
    () =>
      album.songs.filter(
        ({ numbered, region }) =>
          numbered && ticksToSeconds(outOf(region, facts)) - ticksToSeconds(region.in) > 120 * wish.about,
      ),
    [album, facts, wish.about],
  );
  const questions = useMemo(
    () =>
      long.flatMap(({ id, region }): ReadingQuestion[] => {
        const loudness = mastersById.get(region.master)?.measurement?.integratedLufs;
        const values = outlines.get(region.master)?.values;
        if (loudness === undefined || !values) return [];
        const settings = {
          thresholdDb: Math.max(-90, (loudness ?? -30) - wish.under),
          shortestSilence: wish.shortestSilence,
          about: 60 * wish.about,
          least: 60 * wish.least,
        };
        const at = (time: Ticks): number => ticksToSeconds(time) * 75;
        return [
          { song: id, values, stretch: { start: at(region.in), end: at(outOf(region, facts)) }, settings },
        ];
      }),
    [long, mastersById, outlines, facts, wish],
  );
  const [found, setFound] = useState<{
    readonly of: readonly ReadingQuestion[];
    readonly done: number;
    readonly cuts: Reading['cuts'];
  } | null>(null);
  useEffect(() => {
    if (questions.length === 0) return undefined;
    const worker = new Worker(new URL('./reading.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<ReadingAnswer>) => {
      if ('done' in data) setFound({ of: questions, done: data.done, cuts: null });
      else {
        const cuts = new Map(data.cuts.map(([song, at]) => [song, framesOfMaster(at)]));
        setFound({ of: questions, done: questions.length, cuts });
      }
    };
    worker.postMessage(questions);
    return () => worker.terminate();
  }, [questions]);
  const now = found?.of === questions ? found : null;
  return {
    long,
    cuts: now?.cuts ?? null,
    done: now?.done ?? 0,
    waiting: long.length - questions.length,
  };
}
