import type * as z from 'zod';

/** A column of JSON, read by its schema; null where it is NULL. @throws ZodError for anything else than it should hold */
export const fromJson = <T>(schema: z.ZodType<T>, value: unknown): T | null =>
  value === null || value === undefined ? null : schema.parse(JSON.parse(String(value)));

/** The same, for what its row can do without: something that can't be read must not close the list that it stands in. */
export function fromJsonOr<T, F>(schema: z.ZodType<T>, value: unknown, unreadable: F): T | F | null {
  try {
    return fromJson(schema, value);
  } catch {
    return unreadable;
  }
}

/** A value for a column of JSON, as it will be read again. @throws ZodError before unreadable data is stored */
export function toJson<T>(schema: z.ZodType<T>, value: T): string {
  const text = JSON.stringify(value);
  schema.parse(JSON.parse(text));
  return text;
}
