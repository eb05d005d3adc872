import * as z from './z.js';

/** `safeParse` that holds for hostile values too: one with more faults than the stack holds (hundreds of thousands) is refused with one. */
export function safelyParsed<T extends z.ZodType>(
  schema: T,
  value: unknown,
): z.ZodSafeParseResult<z.output<T>> {
  try {
    return schema.safeParse(value);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    const issue: z.core.$ZodIssue = {
      code: 'custom',
      path: [],
      message: 'It has too many errors to list.',
      input: undefined,
    };
    return { success: false, error: new z.ZodError([issue]) as z.ZodError<z.output<T>> };
  }
}
