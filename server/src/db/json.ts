import type { z } from 'zod';

/** A column of JSON, read by its schema; null where it is NULL. @throws ZodError for anything else than it should hold */
export const fromJson = <T>(schema: z.ZodType<T>, value: unknown): T | null =>
  value === null || value === undefined ? null : schema.parse(JSON.parse(String(value)));
