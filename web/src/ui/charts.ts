/** How the axes of all charts look. */
export const AXIS = { stroke: 'var(--oi-muted)', tick: { fill: 'var(--oi-muted)', fontSize: 12 } } as const;
export const TOOLTIP = {
  contentStyle: {
    background: 'var(--oi-surface)',
    border: '1px solid var(--oi-soft)',
    color: 'var(--oi-ink)',
  },
  isAnimationActive: false,
} as const;

export const minutes = (seconds: number): string =>
  `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;

/** Whole steps that a person counts in, ten at the most. */
export function timeTicks(seconds: number): number[] {
  const step = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 1200].find((each) => seconds / each <= 10) ?? 3600;
  return Array.from({ length: Math.floor(seconds / step) + 1 }, (_, i) => i * step);
}
