import { FADE_SHAPES } from '@oiseau/audio/dsp';
import { secondsToTicks, ticks, type Ticks } from '@oiseau/audio/time';
import { NO_TREATMENT, treatmentSchema } from '@oiseau/audio/stages';
import * as z from '@oiseau/audio/z';

/** The longest single time of an album (a trim, a gap, a fade), ten days, either way: sums of an album's times stay exact in a double. */
export const MOST_SECONDS = 864_000;
const MOST_TICKS = secondsToTicks(MOST_SECONDS);

/** An integer number of ticks, at most ten days either way; branded once the number is known to be whole. */
export const ticksSchema = z
  .int()
  .min(-MOST_TICKS)
  .max(MOST_TICKS)
  .transform((value): Ticks => ticks(value));

const fadeSchema = z.strictObject({ length: ticksSchema, shape: z.enum(FADE_SHAPES) });
export type Fade = z.output<typeof fadeSchema>;

/** Gains that a song can have, dB: from as good as silence to far more than anybody needs. */
export const GAIN_DB = { least: -144, most: 48 } as const;

/**
 * What sounds of a song: a stretch `[in, out)` of a master and what is done to it. Whatever is added here decides what is heard and
 * seeds the dither: see `sound-key.ts`.
 */
export const regionSchema = z.strictObject({
  /** SHA-256 of the master's file; an album that is never stored may name it otherwise. */
  master: z.string().regex(/^[0-9a-f]{64}$/),
  /** From the start of the master. */
  in: ticksSchema,
  /** From the start of the master; null: its end. */
  out: ticksSchema.nullable(),
  /** Silence before the audio; of a disc's first song its first pause; negative for an overlap with the song before. */
  gapBefore: ticksSchema,
  gainDb: z.number().min(GAIN_DB.least).max(GAIN_DB.most),
  fadeIn: fadeSchema,
  fadeOut: fadeSchema,
  /** Works on the whole master, before the region is cut from it. */
  sound: treatmentSchema.default(NO_TREATMENT),
});

export type Region = z.output<typeof regionSchema>;
/** A region whose end is known. */
export type PlayedRegion = Omit<Region, 'out'> & {
  readonly out: Ticks;
  /** Of an alternate that was lined up: how much later its master has what the song’s has; left out where it is as it is. */
  readonly shift?: Ticks;
};

/** No fade at all. */
export const NO_FADE: Fade = { length: ticks(0), shape: 'linear' };

/** The whole of a master as it is, `gapBefore` after the song before. */
export const wholeMaster = (master: string, gapBefore: Ticks): Region => ({
  master,
  in: ticks(0),
  out: null,
  gapBefore,
  gainDb: 0,
  fadeIn: NO_FADE,
  fadeOut: NO_FADE,
  sound: NO_TREATMENT,
});
