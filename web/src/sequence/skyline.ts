import {
  framesToTicks,
  ticks,
  TICKS_PER_SECOND,
  ticksToSeconds,
  trackMarks,
  type Interval,
  type Part,
  type Silhouette,
  type Ticks,
} from '@oiseau/core';
import type { Palette } from '../ui/canvas.js';
import { drawSilhouette } from '../ui/silhouette-drawing.js';

/** What the Skyline draws: a disc or a side as it is laid out. */
export interface SkylineScene {
  readonly part: Part;
  readonly silhouettes: ReadonlyMap<string, Silhouette>;
  /** The chosen songs. */
  readonly chosen: ReadonlySet<string>;
  readonly view: SkylineView;
  /** The track that is being dragged, and the place where it would go. */
  readonly drag: TrackDrag | null;
}

/** A track on its way to another place. */
export interface TrackDrag {
  readonly id: string;
  /** The place among the tracks that it would have, from 0. */
  readonly to: number;
}

/** Room above the silhouettes and, under the ground line, for numbers and titles. */
const TOP = 6;
const FOOT = 34;
/** Room to the right of the lead-out, so that the end of the disc can be seen. */
export const RIGHT = 10;

/** The closest look at the disc: a minute of it. */
const CLOSEST = ticks(60 * TICKS_PER_SECOND);

/** The stretch of the disc that is in sight, absolute times. */
export type SkylineView = Interval<Ticks>;

/** Where a part ends: a disc at its lead-out, a side with its last audio. */
const endOf = ({ disc, placement }: Part): Ticks => (disc ? framesToTicks(disc.leadOut) : placement.end);

/** The whole disc or side. */
export function wholeView(part: Part): SkylineView {
  return { start: ticks(0), end: ticks(Math.max(1, endOf(part))) };
}

/** Place of a time on a Skyline of this width. */
export function xOf({ start, end }: SkylineView, time: number, width: number): number {
  return ((time - start) / (end - start)) * (width - RIGHT);
}

/** The time at a place, within what is in sight. */
export function timeAt({ start, end }: SkylineView, x: number, width: number): Ticks {
  const share = Math.max(0, Math.min(1, x / (width - RIGHT)));
  return ticks(Math.round(start + share * (end - start)));
}

/** Closer (or wider, for a factor over 1) around a time that stays where it is, between a minute and the whole disc. */
export function zoomed(view: SkylineView, factor: number, around: Ticks, part: Part): SkylineView {
  const whole = wholeView(part);
  const span = view.end - view.start;
  const wide = Math.min(whole.end, Math.max(Math.min(CLOSEST, whole.end), span * factor));
  return within(around - ((around - view.start) / span) * wide, wide, whole);
}

/** The same span further along, by a share of what is in sight. */
export function panned(view: SkylineView, share: number, part: Part): SkylineView {
  const wide = view.end - view.start;
  return within(view.start + share * wide, wide, wholeView(part));
}

/** A view no longer than the disc that does not reach beyond its ends. */
function within(from: number, wide: number, whole: SkylineView): SkylineView {
  const span = Math.min(wide, whole.end);
  const start = Math.max(0, Math.min(whole.end - span, from));
  return { start: ticks(Math.round(start)), end: ticks(Math.round(start + span)) };
}

/**
 * Where a track that is dragged would go: before the first track whose middle lies behind the place, counted as the place
 * it ends up at.
 */
export function placeAt({ tracks, placement }: Part, dragged: string, time: Ticks): number {
  return tracks.filter(({ id }) => {
    const placed = placement.songs.get(id);
    return placed && id !== dragged && (placed.start + placed.end) / 2 < time;
  }).length;
}

/** The whole disc to scale: each track a silhouette on one ground line, as high as it is loud. */
export function drawSkyline(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  palette: Palette,
  scene: SkylineScene,
): void {
  const { part, silhouettes, chosen, view, drag } = scene;
  const ground = height - FOOT;
  context.clearRect(0, 0, width, height);
  for (const { id, region } of part.songs) {
    const placed = part.placement.songs.get(id);
    if (!placed) continue;
    // Of a song that reaches out of sight only what can be seen is drawn.
    const start = Math.max(placed.start, view.start);
    const end = Math.min(placed.end, view.end);
    const x = xOf(view, start, width);
    const right = xOf(view, end, width);
    if (right <= x) continue;
    const isChosen = chosen.has(id);
    if (isChosen) {
      context.fillStyle = palette.accent;
      context.globalAlpha = 0.12;
      context.fillRect(x, TOP, right - x, ground - TOP);
      context.globalAlpha = 1;
    }
    const outline = silhouettes.get(region.master);
    if (outline) {
      const from = ticksToSeconds(ticks(region.in + start - placed.start)) * 75;
      const stretch = {
        x,
        width: right - x,
        ground,
        height: ground - TOP,
        from,
        to: from + ticksToSeconds(ticks(end - start)) * 75,
      };
      // Not quite opaque: where two songs overlap, both can be seen.
      context.fillStyle = isChosen ? palette.accent : palette.soft;
      context.globalAlpha = id === drag?.id ? 0.2 : isChosen ? 0.4 : 0.85;
      drawSilhouette(context, outline, stretch, 'peak');
      context.globalAlpha = id === drag?.id ? 0.3 : isChosen ? 0.9 : 0.85;
      context.fillStyle = isChosen ? palette.accent : palette.ink;
      drawSilhouette(context, outline, stretch, 'rms');
      context.globalAlpha = 1;
    }
  }
  context.fillStyle = palette.ink;
  const { end: leadOut } = wholeView(part);
  context.fillRect(0, ground, Math.min(width, xOf(view, leadOut, width)), 1);
  // The lead-out: the end of the disc.
  context.fillRect(xOf(view, leadOut, width), TOP, 1, ground - TOP + 6);
  if (drag) {
    context.fillStyle = palette.accent;
    context.fillRect(xOf(view, dropTime(part, drag), width) - 2, 0, 4, ground);
  }
  drawFoot(context, width, ground, palette, scene);
}

/** Between the two tracks where the dragged one would come to stand. */
function dropTime({ tracks, placement }: Part, { id, to }: TrackDrag): number {
  const others = tracks.filter((track) => track.id !== id);
  return placement.songs.get(others[to]?.id ?? '')?.start ?? placement.end;
}

/** A tick at each start mark, a short one at each index point, the number, and the title where it fits. */
function drawFoot(
  context: CanvasRenderingContext2D,
  width: number,
  ground: number,
  palette: Palette,
  { part, chosen, view }: SkylineScene,
): void {
  context.textBaseline = 'top';
  let numberEnd = -Infinity;
  const marks = trackMarks(part);
  marks.forEach(({ id, start }, i) => {
    const isChosen = chosen.has(id);
    context.fillStyle = palette.muted;
    for (const point of part.disc?.tracks.get(id)?.indexes ?? [])
      context.fillRect(xOf(view, framesToTicks(point), width), ground, 1, 4);
    const x = xOf(view, start, width);
    const room = xOf(view, marks[i + 1]?.start ?? wholeView(part).end, width) - x;
    context.fillStyle = isChosen ? palette.accent : palette.ink;
    context.fillRect(x, ground, 1, 7);
    context.font = `600 13px 'Source Sans 3 Variable', sans-serif`;
    const number = String(i + 1);
    const numberWidth = context.measureText(number).width;
    // With 99 tracks some numbers would touch: those are left out, the ticks stay.
    if (x + 3 < numberEnd + 4 && !isChosen) return;
    context.fillText(number, x + 4, ground + 6);
    numberEnd = x + 4 + numberWidth;
    context.font = `13px 'Source Sans 3 Variable', sans-serif`;
    const title = fit(context, part.tracks[i]?.title ?? '', room - 10);
    if (title) context.fillText(title, x + 4, ground + 20);
  });
}

/** The text, shortened with an ellipsis to a width; empty when hardly anything of it would be left. */
function fit(context: CanvasRenderingContext2D, text: string, width: number): string {
  if (context.measureText(text).width <= width) return text;
  for (let length = text.length - 1; length >= 3; length--) {
    const cut = `${text.slice(0, length).trimEnd()}…`;
    if (context.measureText(cut).width <= width) return cut;
  }
  return '';
}
