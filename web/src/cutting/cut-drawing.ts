import { pieceEnd, type Cutting } from '@oiseau/formats/cutting';
import type { Silhouette } from '@oiseau/audio/measure';
import type { Palette } from '../ui/canvas.js';
import { drawSilhouette } from '../ui/silhouette-drawing.js';

/** Room above the silhouette for the numbers of the pieces. */
const HEAD = 18;
/** How near to a cut a press takes hold of it, in pixels. */
const REACH = 5;

/** What a picture of the recording shows: samples `[from, to)`. */
export interface CutView {
  readonly from: number;
  readonly to: number;
}

export interface CutScene {
  readonly outline: Silhouette | undefined;
  /** Samples of the master in one value of the outline. */
  readonly bucket: number;
  readonly cutting: Cutting;
  /** What would come of the settings in hand; null when nothing is being tried. */
  readonly preview: Cutting | null;
  readonly chosen: number;
  readonly view: CutView;
}

export function xOf(sample: number, { from, to }: CutView, width: number): number {
  return ((sample - from) / (to - from)) * width;
}

export function sampleAt(x: number, { from, to }: CutView, width: number): number {
  return Math.round(from + (x / width) * (to - from));
}

/** The cut (a piece's number, 1 or more) under a place, or null. */
export function cutUnder(x: number, cutting: Cutting, view: CutView, width: number): number | null {
  const distances = cutting.pieces.map(({ start }, i) =>
    i === 0 ? Infinity : Math.abs(xOf(start, view, width) - x),
  );
  const nearest = Math.min(...distances);
  return nearest <= REACH ? distances.indexOf(nearest) : null;
}

/** The recording as a silhouette in its pieces: what is left out is pale, a cut is a line from top to bottom. */
export function drawCuts(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  palette: Palette,
  scene: CutScene,
): void {
  const { outline, bucket, cutting, preview, chosen, view } = scene;
  context.clearRect(0, 0, width, height);
  context.font = "600 13px 'Source Sans 3 Variable', sans-serif";
  context.textBaseline = 'top';
  cutting.pieces.forEach((piece, i) => {
    const start = Math.max(view.from, piece.start);
    const end = Math.min(view.to, pieceEnd(cutting, i));
    if (end <= start) return;
    const x = xOf(start, view, width);
    const right = xOf(end, view, width);
    if (i === chosen) {
      context.fillStyle = palette.accent;
      context.globalAlpha = 0.12;
      context.fillRect(x, 0, right - x, height);
      context.globalAlpha = 1;
    }
    if (outline) {
      const stretch = {
        x,
        width: right - x,
        ground: height - 1,
        height: height - 1 - HEAD,
        from: start / bucket,
        to: end / bucket,
      };
      context.fillStyle = piece.keep ? palette.soft : palette.rule;
      drawSilhouette(context, outline, stretch, 'peak');
      if (piece.keep) {
        context.fillStyle = palette.ink;
        drawSilhouette(context, outline, stretch, 'rms');
      }
    }
    context.fillStyle = i === chosen ? palette.accent : palette.ink;
    const number = piece.keep
      ? String(cutting.pieces.slice(0, i + 1).filter(({ keep }) => keep).length)
      : 'out';
    if (right - x > context.measureText(number).width + 4) context.fillText(number, x + 4, 1);
  });
  cutting.pieces.slice(1).forEach(({ start }, i) => {
    context.fillStyle = i + 1 === chosen ? palette.accent : palette.ink;
    context.fillRect(Math.round(xOf(start, view, width)) - 1, 0, 2, height);
  });
  context.fillStyle = palette.doubt;
  for (const { start } of preview?.pieces.slice(1) ?? []) {
    const x = Math.round(xOf(start, view, width));
    for (let y = 0; y < height; y += 8) context.fillRect(x, y, 2, 5);
  }
  context.fillStyle = palette.ink;
  context.fillRect(0, height - 1, width, 1);
}
