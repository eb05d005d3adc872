/** The five fade shapes (docs/rules.md 3.7), as they are written in an album file. */
export const FADE_SHAPES = ['linear', 'equal-power', 'cosine', 'slow', 'fast'] as const;
export type FadeShape = (typeof FADE_SHAPES)[number];

/** Gain of a fade-in at x in [0, 1]; 0 → 0 and 1 → 1 for every shape. */
export function fadeGain(shape: FadeShape, x: number): number {
  switch (shape) {
    case 'linear':
      return x;
    case 'equal-power':
      return Math.sin((Math.PI * x) / 2);
    case 'cosine':
      return (1 - Math.cos(Math.PI * x)) / 2;
    case 'slow':
      return x * x;
    case 'fast':
      return 1 - (1 - x) * (1 - x);
    default:
      return shape satisfies never;
  }
}

/**
 * Multiplies the part of `audio` that a fade covers. Sample n of a fade of N has gain shape((n+½)/N);
 * a fade-out is the mirror image (docs/rules.md 3.7).
 * @param audio changed in place; its first sample is sample `offset` of the fade (may be negative)
 * @param length N, in samples
 */
export function applyFade(
  audio: Float64Array,
  offset: number,
  length: number,
  shape: FadeShape,
  direction: 'in' | 'out',
): void {
  const from = Math.max(0, -offset);
  const to = Math.min(audio.length, length - offset);
  for (let i = from; i < to; i++) {
    const x = (offset + i + 0.5) / length;
    audio[i] = (audio[i] ?? 0) * fadeGain(shape, direction === 'in' ? x : 1 - x);
  }
}
