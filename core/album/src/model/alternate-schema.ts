import { ticks } from '@oiseau/audio/time';
import { atMost } from '@oiseau/audio/schema';
import { regionSchema, ticksSchema } from './region.js';
import * as z from '@oiseau/audio/z';

/** What the masters themselves are called where recordings are chosen (docs/album-file.md 2.4). */
export const MAIN = 'main';

/** A song can have this many other recordings. */
const MOST_ALTERNATES = 30;

/** The name of a kind of recording, which is one over the whole album: `instrumental`, `a cappella`. */
export const alternateName = z
  .string()
  .min(1)
  .max(40)
  .refine((name) => name === name.trim() && !/\p{Cc}/u.test(name), {
    error: (issue) => `“${String(issue.input)}” starts or ends with a space, or has invisible characters.`,
  })
  .refine((name) => name !== '__proto__', { error: '“__proto__” can’t be a name.' })
  .refine((name) => name.toLowerCase() !== MAIN, { error: '“main” is the master itself.' });

/** Which recordings a deliverable is made of. */
export const chosenAlternate = z.union([z.literal(MAIN), alternateName]);

/** By name, each under a name of its own. @param alternate what is kept of one */
export const alternatesOf = <T extends z.ZodType>(alternate: T) =>
  atMost(
    MOST_ALTERNATES,
    'alternates',
    z.record(alternateName, alternate).superRefine((all, context) => {
      const taken = new Set<string>();
      for (const name of Object.keys(all)) {
        const folded = name.toLowerCase();
        if (taken.has(folded))
          context.addIssue({ code: 'custom', path: [name], message: `Two alternates are named “${name}”.` });
        taken.add(folded);
      }
    }),
  );

/** Another recording of a song. It shares region, fades, gain, sound, marks and place with the master. */
export const alternateSchema = z.strictObject({
  master: regionSchema.shape.master,
  /** How much later it has what the master has at the same moment: what it is moved by to line up. */
  shift: ticksSchema.default(ticks(0)),
});
export type Alternate = z.output<typeof alternateSchema>;
