import * as z from 'zod';

/** How a disc is written. */
export const writing = z.strictObject({
  /** Times the speed of playing. */
  speed: z.int().min(1).max(72).default(16),
  /** A test write first, with the laser off. */
  test: z.boolean().default(false),
  copies: z.int().min(1).max(50).default(1),
  /** Of an album of several discs, the folder of the one that is written: `disc-2`. */
  part: z.string().max(40).nullable().default(null),
});
export type Writing = z.output<typeof writing>;
