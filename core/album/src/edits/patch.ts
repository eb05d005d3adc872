import { applyPatch, createPatch } from 'rfc6902';
import * as z from '@oiseau/audio/z';

/** A place in a document (RFC 6901); names that JavaScript gives a meaning of their own are none. */
const pointer = z
  .string()
  .max(400)
  .regex(/^(?:\/(?:[^~/]|~[01])*)*$/, 'not a JSON Pointer')
  .refine((path) => !/\/(?:__proto__|constructor|prototype)(?:\/|$)/.test(path), 'not a field of an album');

/** More operations than an edit of the largest album has. */
const MOST_OPERATIONS = 20_000;

/**
 * A change of an album's document as JSON Patch (RFC 6902), without `copy`, which makes much of little.
 */
export const albumPatchSchema = z
  .array(
    z.discriminatedUnion('op', [
      z.strictObject({ op: z.literal('add'), path: pointer, value: z.json() }),
      z.strictObject({ op: z.literal('replace'), path: pointer, value: z.json() }),
      z.strictObject({ op: z.literal('test'), path: pointer, value: z.json() }),
      z.strictObject({ op: z.literal('remove'), path: pointer }),
      z.strictObject({ op: z.literal('move'), from: pointer, path: pointer }),
    ]),
  )
  .max(MOST_OPERATIONS);
export type AlbumPatch = z.output<typeof albumPatchSchema>;

/** A patch does not fit the document: a place is not there, or a test fails. */
export class PatchMisfit extends Error {
  override readonly name = 'PatchMisfit';
}

/** A document is JSON: nothing is lost by it. */
const copyOf = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

/** The document after a change; the one before stays what it is. @throws PatchMisfit */
export function patched(document: object, patch: AlbumPatch): unknown {
  // A patch may replace the whole document.
  const whole = { document: copyOf<unknown>(document) };
  const below = patch.map((operation) => ({
    ...copyOf(operation),
    path: `/document${operation.path}`,
    ...('from' in operation && { from: `/document${operation.from}` }),
  }));
  const failed = applyPatch(whole, below).find((error) => error !== null);
  if (failed) throw new PatchMisfit(failed.message, { cause: failed });
  return whole.document;
}

/**
 * What leads from one document to the other, the order of their keys included: people see the order of a song's recordings. Empty where
 * they say the same.
 */
export function patchBetween(before: object, after: object): AlbumPatch {
  const patch = createPatch(before, after) as AlbumPatch;
  if (patch.length === 0) return patch;
  return [...patch, ...inOrder(patched(before, patch), after, '')];
}

/** Replaces each object whose keys come in another order. */
function inOrder(value: unknown, wanted: unknown, path: string): AlbumPatch {
  if (typeof value !== 'object' || typeof wanted !== 'object' || !value || !wanted) return [];
  const keys = Object.keys(value);
  if (Object.keys(wanted).some((key, i) => key !== keys[i]))
    return [{ op: 'replace', path, value: copyOf(wanted) as never }];
  return keys.flatMap((key) =>
    inOrder(
      value[key as never],
      wanted[key as never],
      `${path}/${key.replace(/~/g, '~0').replace(/\//g, '~1')}`,
    ),
  );
}
