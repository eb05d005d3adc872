/** Dither kinds (docs/rules.md 4.3), as they are written in an album file. */
export const DITHER_KINDS = ['none', 'rectangular', 'triangular', 'shaped'] as const;
export type DitherKind = (typeof DITHER_KINDS)[number];
