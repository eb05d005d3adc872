import {
  framesToTicks,
  sounding,
  ticks,
  TICKS_PER_SECOND,
  ticksToSeconds,
  trackAtIndex,
  type Album,
  type Layout,
  type PlacedAudio,
  type Silhouette,
  type Ticks,
} from '@oiseau/core';
import type { Palette } from '../ui/canvas.js';
import { drawSilhouette } from '../ui/silhouette-drawing.js';

/** What the Skyline draws: the disc as it is laid out. */
export interface SkylineScene {
  readonly album: Album;
  readonly layout: Layout;
  readonly silhouettes: ReadonlyMap<string, Silhouette>;
  /** The chosen tracks. */
  readonly chosen: ReadonlySet<string>;
  readonly view: SkylineView;
  /** The track that is being dragged, and the place where it would go. */
  readonly drag: { readonly from: number; readonly to: number } | null;
}

/** Room above the silhouettes and, under the ground line, for numbers and titles. */
const TOP = 6;
const FOOT = 34;
/** Room to the right of the lead-out, so that the end of the disc can be seen. */
export const RIGHT = 10;

/** The closest look at the disc: a minute of it. */
const CLOSEST = ticks(60 * TICKS_PER_SECOND);

/** The stretch of the disc that is in sight, absolute times. */
export interface SkylineView {
  readonly from: Ticks;
  readonly until: Ticks;
}

/** The whole disc. */
export function discView(layout: Layout): SkylineView {
  return { from: ticks(0), until: ticks(Math.max(1, framesToTicks(layout.leadOut))) };
}

/** Place of a time on a Skyline of this width. */
export function xOf({ from, until }: SkylineView, time: number, width: number): number {
  return ((time - from) / (until - from)) * (width - RIGHT);
}

/** The time at a place, within what is in sight. */
export function timeAt({ from, until }: SkylineView, x: number, width: number): Ticks {
  const share = Math.max(0, Math.min(1, x / (width - RIGHT)));
  return ticks(Math.round(from + share * (until - from)));
}

/** Closer (or wider, for a factor over 1) around a time that stays where it is, between a minute and the whole disc. */
export function zoomed(view: SkylineView, factor: number, around: Ticks, layout: Layout): SkylineView {
  const whole = discView(layout);
  const span = view.until - view.from;
  const wide = Math.min(whole.until, Math.max(Math.min(CLOSEST, whole.until), span * factor));
  return within(around - ((around - view.from) / span) * wide, wide, whole);
}

/** The same span further along, by a share of what is in sight. */
export function panned(view: SkylineView, share: number, layout: Layout): SkylineView {
  const wide = view.until - view.from;
  return within(view.from + share * wide, wide, discView(layout));
}

/** A view no longer than the disc that does not reach beyond its ends. */
function within(from: number, wide: number, whole: SkylineView): SkylineView {
  const span = Math.min(wide, whole.until);
  const start = Math.max(0, Math.min(whole.until - span, from));
  return { from: ticks(Math.round(start)), until: ticks(Math.round(start + span)) };
}

/**
 * Where a track that is dragged would go: before the first track whose middle lies behind the place, counted as the place
 * it ends up at.
 */
export function placeAt(layout: Layout, dragged: number, time: Ticks): number {
  const middles = layout.tracks.map(({ audioStart, audioEnd }) => (audioStart + audioEnd) / 2);
  return middles.filter((middle, i) => i !== dragged && middle < time).length;
}

/** The whole disc to scale: each track a silhouette on one ground line, as high as it is loud. */
export function drawSkyline(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  palette: Palette,
  scene: SkylineScene,
): void {
  const { album, layout, silhouettes, chosen, view, drag } = scene;
  const ground = height - FOOT;
  context.clearRect(0, 0, width, height);
  const first = layout.hidden ? -1 : 0;
  sounding<PlacedAudio>(layout).forEach(({ audioStart, audioEnd }, place) => {
    const i = first + place;
    const track = trackAtIndex(album, i);
    // Of a track that reaches out of sight only what can be seen is drawn.
    const start = Math.max(audioStart, view.from);
    const end = Math.min(audioEnd, view.until);
    const x = xOf(view, start, width);
    const right = xOf(view, end, width);
    if (!track || right <= x) return;
    const isChosen = chosen.has(track.id);
    if (isChosen) {
      context.fillStyle = palette.accent;
      context.globalAlpha = 0.12;
      context.fillRect(x, TOP, right - x, ground - TOP);
      context.globalAlpha = 1;
    }
    const outline = silhouettes.get(track.master);
    if (outline) {
      const from = ticksToSeconds(ticks(track.in + start - audioStart)) * 75;
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
      context.globalAlpha = i === drag?.from ? 0.2 : isChosen ? 0.4 : 0.85;
      drawSilhouette(context, outline, stretch, 'peak');
      context.globalAlpha = i === drag?.from ? 0.3 : isChosen ? 0.9 : 0.85;
      context.fillStyle = isChosen ? palette.accent : palette.ink;
      drawSilhouette(context, outline, stretch, 'rms');
      context.globalAlpha = 1;
    }
  });
  context.fillStyle = palette.ink;
  const { until: leadOut } = discView(layout);
  context.fillRect(0, ground, Math.min(width, xOf(view, leadOut, width)), 1);
  // The lead-out: the end of the disc.
  context.fillRect(xOf(view, leadOut, width), TOP, 1, ground - TOP + 6);
  if (drag) {
    context.fillStyle = palette.accent;
    context.fillRect(xOf(view, dropTime(layout, drag), width) - 2, 0, 4, ground);
  }
  drawFoot(context, width, ground, palette, scene);
}

/** Between the two tracks where the dragged one would come to stand. */
function dropTime(layout: Layout, { from, to }: { from: number; to: number }): number {
  const others = layout.tracks.filter((_, i) => i !== from);
  return others[to]?.audioStart ?? layout.end;
}

/** A tick at each start mark, a short one at each index point, the number, and the title where it fits. */
function drawFoot(
  context: CanvasRenderingContext2D,
  width: number,
  ground: number,
  palette: Palette,
  { album, layout, chosen, view }: SkylineScene,
): void {
  context.textBaseline = 'top';
  let numberEnd = -Infinity;
  layout.tracks.forEach(({ startMark, indexes }, i) => {
    const track = album.tracks[i];
    const isChosen = track !== undefined && chosen.has(track.id);
    context.fillStyle = palette.muted;
    for (const point of indexes) context.fillRect(xOf(view, framesToTicks(point), width), ground, 1, 4);
    const x = xOf(view, framesToTicks(startMark), width);
    const next = layout.tracks[i + 1];
    const room = xOf(view, next ? framesToTicks(next.startMark) : discView(layout).until, width) - x;
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
    const title = fit(context, track?.title ?? '', room - 10);
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
