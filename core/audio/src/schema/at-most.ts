import * as z from './z.js';

const entriesOf = (value: unknown): number =>
  Array.isArray(value)
    ? value.length
    : typeof value === 'object' && value !== null
      ? Object.keys(value).length
      : 0;

/**
 * A list or table with a bound that is checked before any entry is read: a hostile document with a million entries costs one look at their
 * number, and one finding.
 * @param what its entries in the plural, for the message: `tags`
 */
export const atMost = <T extends z.ZodType>(most: number, what: string, schema: T) =>
  z.preprocess((value: z.input<T>, context) => {
    const found = entriesOf(value);
    if (found <= most) return value;
    context.addIssue({
      code: 'custom',
      message: `${found} ${what}; at most ${most} are allowed.`,
      input: value,
    });
    return z.NEVER;
  }, schema);
