import type { FadeShape } from '../dsp/fade.js';
import { ceilToFrame, FIRST_PAUSE_FRAMES, floorToFrame, framesToTicks } from '../time/frames.js';
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
}

export interface Sequence {
  readonly tracks: readonly SequenceTrack[];
  /** How long before its audio a track's start mark stands. */
  readonly markLead: Ticks;
  /** Silence after the last audio. */
  readonly endPause: Ticks;
}

/** Where a track lies on the disc, in absolute time from the start of the first pause. */
export interface PlacedTrack {
  readonly audioStart: Ticks;
  readonly audioEnd: Ticks;
  /** Index 01. */
  readonly startMark: Frames;
  /** Index 00, where there is a pause before the start mark; always null for track 1. */
  readonly pause: Frames | null;
  /** Index 02 and up. */
  readonly indexes: readonly Frames[];
}

export interface Layout {
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
 */
export function layOut(sequence: Sequence): Layout {
  const placed: PlacedTrack[] = [];
  let cursor = ticks(0);
  sequence.tracks.forEach((track, index) => {
    const audioStart = ticks(cursor + track.gapBefore);
    const audioEnd = ticks(audioStart + track.out - track.in);
    const wished = floorToFrame(ticks(audioStart - sequence.markLead));
    const startMark = index === 0 && wished < FIRST_PAUSE_FRAMES ? FIRST_PAUSE_FRAMES : wished;
    const silenceFrom = ceilToFrame(cursor);
    placed.push({
      audioStart,
      audioEnd,
      startMark,
      pause: index > 0 && silenceFrom < startMark ? silenceFrom : null,
      indexes: track.indexes.map((after) => floorToFrame(ticks(framesToTicks(startMark) + after))),
    });
    cursor = audioEnd;
  });
  const end = ticks(cursor + sequence.endPause);
  return { tracks: placed, end, leadOut: ceilToFrame(end) };
}
