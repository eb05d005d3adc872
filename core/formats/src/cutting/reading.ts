import { type Album, NO_FADE, type Song, withSongs } from '@oiseau/album/model';
import type { Silhouette } from '@oiseau/audio/measure';
import { dbToLinear } from '@oiseau/audio/dsp';
import {
  frames,
  framesToTicks,
  FRAMES_PER_SECOND,
  isInside,
  type Interval,
  ticks,
  type Ticks,
} from '@oiseau/audio/time';

/** How a long recording is to be cut into tracks. Times in seconds. */
export interface ReadingSettings {
  /** What lies below counts as silent, dBFS. */
  readonly thresholdDb: number;
  /** A shorter silence is a breath and no place for a cut. */
  readonly shortestSilence: number;
  /** The length that tracks are wanted to have. */
  readonly about: number;
  /** No track is shorter. */
  readonly least: number;
}

/** A silence in which a cut could stand: just before the sound goes on. */
interface Place {
  /** CD frame of the recording. */
  readonly at: number;
  /** How long the silence is, in frames. */
  readonly silence: number;
}

/** How long before the sound that follows a cut stands, frames: a breath, and never out of the silence. */
const BREATH = Math.round(0.3 * FRAMES_PER_SECOND);
/** A silence of so many seconds is as good a place as any; a shorter one must lie nearer to the wanted length to be taken. */
const GOOD_SILENCE_S = 2;
/** What a cut in the shortest silence costs, where a track of twice the wanted length costs 1. */
const SHORT_SILENCE_COST = 0.1;
/** Tracks of more than so many times the wanted length are only made where there is no silence to cut at. */
const MOST_TIMES = 4;

/**
 * Where a long recording is cut into tracks of about a wanted length, in its silences: of all ways the one whose tracks lie nearest to that
 * length, longer silences before shorter ones, none shorter than the least.
 * @param stretch CD frames of the recording
 * @returns CD frames, rising, inside the stretch
 */
export function cutsToLength(
  outline: Silhouette,
  stretch: Interval<number>,
  settings: ReadingSettings,
): number[] {
  const { about, least } = settings;
  const [wanted, shortest] = [about * FRAMES_PER_SECOND, least * FRAMES_PER_SECOND];
  const ends: readonly Place[] = [
    { at: stretch.start, silence: Infinity },
    ...places(outline, stretch, settings).filter(({ at }) => at > stretch.start && at < stretch.end),
    { at: stretch.end, silence: Infinity },
  ];
  /** The cheapest way to each place, and the place before it on that way. */
  const cost = ends.map(() => Infinity);
  const before = ends.map(() => 0);
  cost[0] = 0;
  let first = 0;
  for (let to = 1; to < ends.length; to++) {
    const end = ends[to] as Place;
    while (first < to - 1 && end.at - (ends[first] as Place).at > MOST_TIMES * wanted) first++;
    const silence = Math.min(1, end.silence / (GOOD_SILENCE_S * FRAMES_PER_SECOND));
    const cutCost = SHORT_SILENCE_COST * (1 - silence);
    for (let from = first; from < to; from++) {
      const length = end.at - (ends[from] as Place).at;
      // Where nothing else goes, too short a track is still a way.
      const tooShort = length < shortest ? 1e6 : 0;
      const way = (cost[from] as number) + ((length - wanted) / wanted) ** 2 + cutCost + tooShort;
      if (way >= (cost[to] as number)) continue;
      cost[to] = way;
      before[to] = from;
    }
  }
  const cuts: number[] = [];
  for (let at = before[ends.length - 1] as number; at > 0; at = before[at] as number)
    cuts.unshift((ends[at] as Place).at);
  return withoutShort(cuts, stretch, shortest);
}

/** Every silence that is long enough. */
function places(outline: Silhouette, { start, end }: Interval<number>, settings: ReadingSettings): Place[] {
  const level = dbToLinear(settings.thresholdDb) * 32_768;
  const shortest = settings.shortestSilence * FRAMES_PER_SECOND;
  const { values } = outline;
  const found: Place[] = [];
  let silentFrom = start;
  const last = Math.min(end, outline.length);
  for (let frame = Math.max(0, Math.floor(start)); frame < last; frame++) {
    if ((values[2 * frame] as number) < level) continue;
    const silence = frame - silentFrom;
    if (silence >= shortest)
      found.push({ at: Math.max(frame - BREATH, silentFrom + Math.floor(silence / 2)), silence });
    silentFrom = frame + 1;
  }
  return found;
}

/** Where a recording is too short at an end, or has no other silence, a track joins the one beside it. */
function withoutShort(cuts: readonly number[], { start, end }: Interval<number>, shortest: number): number[] {
  const kept: number[] = [];
  for (const at of cuts) if (at - (kept.at(-1) ?? start) >= shortest) kept.push(at);
  while (kept.length > 0 && end - (kept.at(-1) as number) < shortest) kept.pop();
  return kept;
}

/**
 * The album with songs cut into tracks that run into each other, sample for sample, as the recording does. The first piece keeps the song’s
 * id, codes and what stands before it, each keeps its words; pieces are numbered behind the title.
 * @param cutsOf where each song is cut, by its id, in time of its master, rising
 * @param idOf an id for each new song
 */
export function cutSongs(
  album: Album,
  cutsOf: ReadonlyMap<string, readonly Ticks[]>,
  idOf: () => string,
): Album {
  const songs = album.songs.flatMap((song) => {
    const inside = {
      start: ticks(song.region.in + 1),
      end: song.region.out ?? ticks(Number.MAX_SAFE_INTEGER),
    };
    const cuts = (song.numbered ? (cutsOf.get(song.id) ?? []) : []).filter((at) => isInside(inside, at));
    return cuts.length === 0 ? [song] : pieces(song, cuts, idOf);
  });
  return withSongs(album, songs);
}

function pieces(song: Song, cuts: readonly Ticks[], idOf: () => string): Song[] {
  const { region, marks } = song;
  const starts = [region.in, ...cuts];
  return starts.map((start, i): Song => {
    const isFirst = i === 0;
    const isLast = i === starts.length - 1;
    return {
      ...song,
      id: isFirst ? song.id : idOf(),
      title: `${song.title} · ${i + 1}`.trim(),
      isrc: isFirst ? song.isrc : '',
      region: {
        ...region,
        in: start,
        out: isLast ? region.out : (starts[i + 1] ?? null),
        gapBefore: isFirst ? region.gapBefore : ticks(0),
        fadeIn: isFirst ? region.fadeIn : NO_FADE,
        fadeOut: isLast ? region.fadeOut : NO_FADE,
      },
      marks: {
        ...marks,
        indexes: [],
        markLead: isFirst ? marks.markLead : null,
        pauseDelay: isFirst ? marks.pauseDelay : null,
        tempo: isLast ? marks.tempo : null,
        loudest: null,
      },
    };
  });
}

/** CD frames of a master as times of it. */
export const framesOfMaster = (cuts: readonly number[]): Ticks[] =>
  cuts.map((at) => framesToTicks(frames(at)));
