import type { FadeShape } from '../dsp/fade.js';
import { ceilToFrame, FIRST_PAUSE_FRAMES, floorToFrame, frames, framesToTicks } from '../time/frames.js';
import { ticks, type Frames, type Ticks } from '../time/ticks.js';

export interface Fade {
  readonly length: Ticks;
  readonly shape: FadeShape;
}

/** One track as the sequence needs it: a region `[in, out)` of a master and what is done to it. */
export interface SequenceTrack {
  /** From the start of the master. */
  readonly in: Ticks;
  /** From the start of the master; the end of the region, always resolved. */
  readonly out: Ticks;
  /** Silence before the audio; of track 1 the first pause; negative for an overlap with the track before. */
  readonly gapBefore: Ticks;
  readonly gainDb: number;
  readonly fadeIn: Fade;
  readonly fadeOut: Fade;
  /** Index points 02 and up, after the start mark. */
  readonly indexes: readonly Ticks[];
  /** Its own mark lead, negative for a start mark inside its audio; null: the sequence's. */
  readonly markLead: Ticks | null;
  /** From the end of the track before to the pause; null: none. */
  readonly pauseDelay: Ticks | null;
}

export interface Sequence {
  /** Sounds in the first pause, before the start mark of track 1. */
  readonly hidden: SequenceTrack | null;
  readonly tracks: readonly SequenceTrack[];
  /** How long before its audio a track's start mark stands. */
  readonly markLead: Ticks;
  /** Silence after the last audio. */
  readonly endPause: Ticks;
}

/** Where audio lies on the disc, in absolute time from the start of the first pause. */
export interface PlacedAudio {
  readonly audioStart: Ticks;
  readonly audioEnd: Ticks;
}

/** Where a track lies on the disc, and its marks. */
export interface PlacedTrack extends PlacedAudio {
  /** Index 01. */
  readonly startMark: Frames;
  /** Index 00, where there is a pause before the start mark; always null for track 1. */
  readonly pause: Frames | null;
  /** Index 02 and up. */
  readonly indexes: readonly Frames[];
}

export interface Layout {
  readonly hidden: PlacedAudio | null;
  readonly tracks: readonly PlacedTrack[];
  /** End of the last audio and the end pause: where continuous files end. */
  readonly end: Ticks;
  /** Where an image ends. */
  readonly leadOut: Frames;
}

/**
 * Places a sequence on the disc: trade.md section 3, rules 1 to 5.
 *
 *     |first pause| track 1     |gap| track 2 ...
 *     0           audioStart    audioEnd
 *               ^ start mark     ^ pause (index 00)
 *                                 ^ start mark, up to markLead before the audio, on a frame
 *
 * A hidden song stands in the first pause; the gap before track 1 then counts from its end:
 *
 *     |  gap  | hidden ~~~|gap| track 1
 *     0                      ^ start mark
 */
export function layOut(sequence: Sequence): Layout {
  const placed: PlacedTrack[] = [];
  const { hidden } = sequence;
  const placedHidden = hidden && {
    audioStart: hidden.gapBefore,
    audioEnd: ticks(hidden.gapBefore + hidden.out - hidden.in),
  };
  let cursor = placedHidden?.audioEnd ?? ticks(0);
  sequence.tracks.forEach((track, index) => {
    const audioStart = ticks(cursor + track.gapBefore);
    const audioEnd = ticks(audioStart + track.out - track.in);
    const wished = floorToFrame(ticks(audioStart - (track.markLead ?? sequence.markLead)));
    const startMark = index === 0 && wished < FIRST_PAUSE_FRAMES ? FIRST_PAUSE_FRAMES : wished;
    const pause = pauseOf(ceilToFrame(ticks(cursor + (track.pauseDelay ?? 0))), startMark, placed.at(-1));
    placed.push({
      audioStart,
      audioEnd,
      startMark,
      pause,
      indexes: track.indexes.map((after) => floorToFrame(ticks(framesToTicks(startMark) + after))),
    });
    cursor = audioEnd;
  });
  const end = ticks(cursor + sequence.endPause);
  return { hidden: placedHidden, tracks: placed, end, leadOut: ceilToFrame(end) };
}

/** A pause lies at least a frame before its start mark and after the start mark before; track 1 has none of its own. */
function pauseOf(wished: Frames, startMark: Frames, before: PlacedTrack | undefined): Frames | null {
  if (!before) return null;
  const pause = frames(Math.max(wished, before.startMark + 1));
  return pause < startMark ? pause : null;
}

/** Everything that sounds, in the order of the disc: the hidden song, if there is one, and the tracks. */
export const sounding = <T>({ hidden, tracks }: { hidden: T | null; tracks: readonly T[] }): readonly T[] =>
  hidden ? [hidden, ...tracks] : tracks;
