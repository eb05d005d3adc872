import {
  framesToTicks,
  ticks,
  ticksToSeconds,
  type Album,
  type Layout,
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
  /** Index of the chosen track. */
  readonly chosen: number | null;
}

/** Room above the silhouettes and, under the ground line, for numbers and titles. */
const TOP = 6;
const FOOT = 34;
/** Room to the right of the lead-out, so that the end of the disc can be seen. */
export const RIGHT = 10;

const discTicks = (layout: Layout): number => Math.max(1, framesToTicks(layout.leadOut));

/** Place of a time on a Skyline of this width. */
export function xOf(layout: Layout, time: number, width: number): number {
  return (time / discTicks(layout)) * (width - RIGHT);
}

/** The time at a place, within the disc. */
export function timeAt(layout: Layout, x: number, width: number): Ticks {
  const share = Math.max(0, Math.min(1, x / (width - RIGHT)));
  return ticks(Math.round(share * discTicks(layout)));
}

/** The whole disc to scale: each track a silhouette on one ground line, as high as it is loud. */
export function drawSkyline(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  palette: Palette,
  scene: SkylineScene,
): void {
  const { album, layout, silhouettes, chosen } = scene;
  const ground = height - FOOT;
  context.clearRect(0, 0, width, height);
  layout.tracks.forEach(({ audioStart, audioEnd }, i) => {
    const track = album.tracks[i];
    const x = xOf(layout, audioStart, width);
    const right = xOf(layout, audioEnd, width);
    if (!track || right <= x) return;
    if (i === chosen) {
      context.fillStyle = palette.accent;
      context.globalAlpha = 0.12;
      context.fillRect(x, TOP, right - x, ground - TOP);
      context.globalAlpha = 1;
    }
    const outline = silhouettes.get(track.master);
    if (outline) {
      const from = ticksToSeconds(track.in) * 75;
      const stretch = {
        x,
        width: right - x,
        ground,
        height: ground - TOP,
        from,
        to: from + ticksToSeconds(ticks(audioEnd - audioStart)) * 75,
      };
      // Not quite opaque: where two songs overlap, both can be seen.
      context.fillStyle = i === chosen ? palette.accent : palette.soft;
      context.globalAlpha = i === chosen ? 0.4 : 0.85;
      drawSilhouette(context, outline, stretch, 'peak');
      context.globalAlpha = i === chosen ? 0.9 : 0.85;
      context.fillStyle = i === chosen ? palette.accent : palette.ink;
      drawSilhouette(context, outline, stretch, 'rms');
      context.globalAlpha = 1;
    }
  });
  context.fillStyle = palette.ink;
  context.fillRect(0, ground, xOf(layout, discTicks(layout), width), 1);
  // The lead-out: the end of the disc.
  context.fillRect(xOf(layout, discTicks(layout), width), TOP, 1, ground - TOP + 6);
  drawFoot(context, width, ground, palette, scene);
}

/** A tick at each start mark, the number, and the title where it fits. */
function drawFoot(
  context: CanvasRenderingContext2D,
  width: number,
  ground: number,
  palette: Palette,
  { album, layout, chosen }: SkylineScene,
): void {
  context.textBaseline = 'top';
  let numberEnd = -Infinity;
  layout.tracks.forEach(({ startMark }, i) => {
    const x = xOf(layout, framesToTicks(startMark), width);
    const next = layout.tracks[i + 1];
    const room =
      (next ? xOf(layout, framesToTicks(next.startMark), width) : xOf(layout, discTicks(layout), width)) - x;
    context.fillStyle = i === chosen ? palette.accent : palette.ink;
    context.fillRect(x, ground, 1, 7);
    context.font = `600 13px 'Source Sans 3 Variable', sans-serif`;
    const number = String(i + 1);
    const numberWidth = context.measureText(number).width;
    // With 99 tracks some numbers would touch: those are left out, the ticks stay.
    if (x + 3 < numberEnd + 4 && i !== chosen) return;
    context.fillText(number, x + 4, ground + 6);
    numberEnd = x + 4 + numberWidth;
    context.font = `13px 'Source Sans 3 Variable', sans-serif`;
    const title = fit(context, album.tracks[i]?.title ?? '', room - 10);
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
