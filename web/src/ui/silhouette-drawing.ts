import type { Silhouette } from '@oiseau/audio/measure';

/**
 * Share of the full height for a level. The square root of the amplitude is near to how loud a sound seems: loud and quiet
 * songs stand apart, and a tail can be followed down to where it ends.
 */
export function heightOf(linear: number): number {
  return Math.min(1, Math.sqrt(linear));
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
export function drawSilhouette(
  context: CanvasRenderingContext2D,
  outline: Silhouette,
  stretch: Stretch,
  measure: 'peak' | 'rms',
): void {
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

/** An outline as it stands everywhere: its peaks behind, its loudness in front. */
export function drawOutline(
  context: CanvasRenderingContext2D,
  outline: Silhouette,
  stretch: Stretch,
  { soft, ink }: { readonly soft: string; readonly ink: string },
): void {
  context.fillStyle = soft;
  drawSilhouette(context, outline, stretch, 'peak');
  context.fillStyle = ink;
  drawSilhouette(context, outline, stretch, 'rms');
}
