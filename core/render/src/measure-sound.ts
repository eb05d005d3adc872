import type { MeasuredSound, SoundFigures, SoundOutline, ReductionFigures } from '@oiseau/album/measured';
import { type Sequence, NO_MARKS } from '@oiseau/album/model';
import { MasterMeters, Meters, readThrough, type Measurement } from '@oiseau/audio/measure';
import type { PcmSource } from '@oiseau/audio/pcm';
import {
  LimitedSource,
  REDUCING_STAGES,
  type ReducingStage,
  reductionsBetween,
  TakenAwayMeter,
  type OnStage,
} from '@oiseau/audio/stages';
import { ticks } from '@oiseau/audio/time';
import { treatedMaster, Programme, type SourcesByKey } from './programme.js';

/** The rate at which a part is measured: the disc's, which is what the player plays. */
export const PART_RATE = 44_100;

/** The outline of a sound, and the powers of its spectrum. */
export interface MeasuredOutline extends SoundOutline {
  readonly powers: Float64Array;
}

/** One stage whose gain is watched. */
interface Watched {
  readonly meter: TakenAwayMeter;
  readonly push: (start: number, count: number) => Promise<void>;
}

/**
 * Measures a sound from end to end, in one pass.
 * @param masters every master that it plays
 * @param progress gets the share that is done, and the seconds of audio
 */
export async function measureSound(
  sound: MeasuredSound,
  masters: SourcesByKey,
  progress?: (share: number, seconds: number) => Promise<void> | void,
): Promise<{ figures: SoundFigures; outline: MeasuredOutline }> {
  const watched = new Map<string, Watched>();
  const onStage: OnStage = (name, before, after, makeupDb) => {
    const meter = new TakenAwayMeter(after.rate, after.length);
    let last = 0;
    const push = async (start: number, count: number): Promise<void> => {
      const reductions =
        after instanceof LimitedSource
          ? ((await after.reductions(start, count)) ?? new Float64Array(count))
          : reductionsBetween(
              await before.read(start, count),
              await after.read(start, count),
              makeupDb,
              last,
            );
      last = reductions[reductions.length - 1] ?? last;
      meter.push(reductions);
    };
    watched.set(name, { meter, push });
  };
  const { source, stretches } = opened(sound, masters, onStage);
  const meters = new MasterMeters(source.rate, source.format, source.length);
  const songs = stretches.map((stretch) => ({ ...stretch, meters: new Meters(source.rate, source.format) }));
  let position = 0;
  const watching: PcmSource = {
    ...{ rate: source.rate, length: source.length, format: source.format },
    read: async (start, count) => {
      const block = await source.read(start, count);
      for (const { push } of watched.values()) await push(start, count);
      return block;
    },
  };
  await readThrough(
    watching,
    (block) => {
      meters.push(block);
      const { length } = block.left;
      for (const { start, end, meters: own } of songs) {
        const [from, to] = [Math.max(0, start - position), Math.min(length, end - position)];
        if (from < to)
          own.push({ left: block.left.subarray(from, to), right: block.right.subarray(from, to) });
      }
      position += length;
    },
    (share) => progress?.(share, (share * source.length) / source.rate),
  );
  const { measurement, silhouette, powers } = meters.result();
  const buckets = Math.ceil(silhouette.values.length / 2);
  const reductions = REDUCING_STAGES.map((name) => watched.get(name)?.meter.result() ?? null);
  const reduced = Uint8Array.from({ length: reductions.length * buckets }, (_, i) => {
    const step = Math.floor(i / reductions.length);
    return reductions[i % reductions.length]?.[step] ?? 0;
  });
  return {
    figures: {
      measurement,
      songs: Object.fromEntries(
        songs.map(({ id, meters: own }): [string, Measurement] => [id, own.result()]),
      ),
      ...(Object.fromEntries(
        REDUCING_STAGES.map((name, i) => [name, reductions[i] ? takenFigures(reductions[i]) : null]),
      ) as Record<ReducingStage, ReductionFigures | null>),
    },
    outline: { silhouette: silhouette.values, powers, reductions: reduced },
  };
}

/** What a part plays, of which only its sound is told. */
export function sequenceOfSound({
  songs,
  endPause,
  sound,
}: Omit<Extract<MeasuredSound, { kind: 'part' }>, 'kind'>): Sequence {
  return {
    songs: songs.map(({ id, region }) => ({
      ...{ id, numbered: true, marks: NO_MARKS },
      region: { ...region, out: ticks(region.out ?? 0) },
    })),
    ...{ markLead: ticks(0), endPause, sound },
  };
}

interface Opened {
  readonly source: PcmSource;
  readonly stretches: readonly { readonly id: string; readonly start: number; readonly end: number }[];
}

function opened(sound: MeasuredSound, masters: SourcesByKey, onStage: OnStage): Opened {
  if (sound.kind === 'song') {
    const master = masters.get(sound.master);
    if (!master) throw new RangeError('The master is missing.');
    return { source: treatedMaster(master, sound, { onStage }), stretches: [] };
  }
  const sequence = sequenceOfSound(sound);
  const programme = new Programme(sequence, masters, PART_RATE, { onStage });
  const stretches = [...programme.placement.songs].map(([id, { start, end }]) => ({
    ...{ id, start: programme.at(start), end: programme.at(end) },
  }));
  const source: PcmSource = {
    ...{ rate: PART_RATE, length: programme.length, format: 'float64' },
    read: (start, count) => programme.read(start, count),
  };
  return { source, stretches };
}

function takenFigures(tenths: Uint8Array): ReductionFigures {
  let [most, working, times] = [0, 0, 0];
  tenths.forEach((value, i) => {
    most = Math.max(most, value);
    if (value === 0) return;
    working++;
    if ((tenths[i - 1] ?? 0) === 0) times++;
  });
  return { mostDb: most / 10, share: tenths.length > 0 ? working / tenths.length : 0, times };
}
