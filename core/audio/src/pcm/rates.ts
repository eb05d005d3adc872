/** Rates that are read, in Hz: each is a whole number of samples to the second's ticks or its double. */
export const SAMPLE_RATES = [
  22_050, 32_000, 44_100, 48_000, 64_000, 88_200, 96_000, 176_400, 192_000, 352_800, 384_000,
] as const;
