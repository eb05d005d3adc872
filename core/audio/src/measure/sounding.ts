import { dbToLinear } from '../dsp/gain.js';
import { frames } from '../time/frames.js';
import type { Frames } from '../time/ticks.js';
import type { Silhouette } from './silhouette.js';

/** A stretch of a master `[start, end)`, in CD frames (1/75 s) of its own time. */
export interface Sounding {
  readonly start: Frames;
  readonly end: Frames;
}

/** From the first frame that reaches `thresholdDb` (dBFS, peak) to the last, within `[from, to)`; null where none does. */
export function soundWithin(
  outline: Silhouette,
  from: number,
  to: number,
  thresholdDb: number,
): Sounding | null {
  const first = Math.max(0, Math.floor(from));
  const last = Math.min(outline.length, Math.ceil(to));
  const level = dbToLinear(thresholdDb);
  const sounds = (frame: number): boolean => outline.over(frame, frame + 1).peak >= level;
  let start = first;
  while (start < last && !sounds(start)) start++;
  if (start === last) return null;
  let end = last;
  while (!sounds(end - 1)) end--;
  return { start: frames(start), end: frames(end) };
}

export interface SilenceSettings {
  /** What lies below counts as silent, dBFS. */
  readonly thresholdDb: number;
  /** Shorter silences are part of the music, seconds. */
  readonly shortestSilence: number;
  /** A shorter stretch of sound belongs to the one before it (an applause, a cough), seconds. */
  readonly shortestPiece: number;
}

/**
 * The pieces of sound that a recording consists of, told apart by its silences.
 *
 *     __|####|_|###|______|#######|_____|##|____|########|__
 *       [  one piece  )   [ piece )     short     [ piece )
 */
export function soundings(outline: Silhouette, settings: SilenceSettings): Sounding[] {
  const level = dbToLinear(settings.thresholdDb);
  const shortestSilence = Math.max(1, Math.round(settings.shortestSilence * 75));
  const shortestPiece = settings.shortestPiece * 75;
  const found: { start: Frames; end: Frames }[] = [];
  for (let frame = 0; frame < outline.length; frame++) {
    if (outline.over(frame, frame + 1).peak < level) continue;
    const open = found.at(-1);
    if (open && frame - open.end < shortestSilence) open.end = frames(frame + 1);
    else found.push({ start: frames(frame), end: frames(frame + 1) });
  }
  return found.reduce<Sounding[]>((pieces, piece) => {
    const before = pieces.at(-1);
    if (before && piece.end - piece.start < shortestPiece)
      pieces[pieces.length - 1] = { start: before.start, end: piece.end };
    else pieces.push(piece);
    return pieces;
  }, []);
}
