import { linearToDb, type Silhouette } from '@oiseau/core';

/** What stands on the ground line: everything below this level is too quiet to see. */
const FLOOR_DB = -54;

/** Share of the full height for a level: loudness is heard in decibels, so it is drawn in decibels. */
export function heightOf(linear: number): number {
  return linear > 0 ? Math.max(0, Math.min(1, 1 - linearToDb(linear) / FLOOR_DB)) : 0;
}

export interface Stretch {
  /** Left and right edge on the canvas. */
  readonly x: number;
  readonly width: number;
  /** Ground line and the height above it. */
  readonly ground: number;
  readonly height: number;
  /** The part of the outline that is shown, in its buckets of 1/75 s. */
  readonly from: number;
  readonly to: number;
}

/** Fills an outline standing on its ground line, one column a pixel, as high as the signal is loud. */
export function drawSilhouette(context: CanvasRenderingContext2D, outline: Silhouette, stretch: Stretch, measure: 'peak' | 'rms'): void {
  const { x, width, ground, height, from, to } = stretch;
  const columns = Math.max(1, Math.ceil(width));
  const step = (to - from) / columns;
  context.beginPath();
  context.moveTo(x, ground);
  for (let column = 0; column < columns; column++) {
    const level = outline.over(from + column * step, from + (column + 1) * step)[measure];
    context.lineTo(x + Math.min(width, column + 0.5), ground - height * heightOf(level));
  }
  context.lineTo(x + width, ground);
  context.closePath();
  context.fill();
}
