import { FADE_SHAPES } from '@oiseau/audio/dsp';
import { secondsToTicks, ticksToSeconds, type Ticks } from '@oiseau/audio/time';
import { MEDIA, type PartSettings } from '../model/parts.js';
import { MOST_SECONDS, type Fade } from '../model/region.js';
import * as z from '@oiseau/audio/z';

export const seconds = z.number().min(-MOST_SECONDS).max(MOST_SECONDS);
export const fade = z
  .strictObject({ length: seconds.min(0).default(0), shape: z.enum(FADE_SHAPES).default('linear') })
  .prefault({});

export const filePart = z.strictObject({
  medium: z.enum(MEDIA),
  /** The track that opens the part, from 1 over the whole album. */
  first: z.int().min(1),
  title: z.string().max(4000).default(''),
  upc: z.string().max(4000).default(''),
  /** Seconds; null: what the medium takes. */
  limit: seconds.min(0).nullable().default(null),
});

export type FilePart = z.output<typeof filePart>;

export const ticksOrNull = (value: number | null): Ticks | null =>
  value === null ? null : secondsToTicks(value);
export const secondsOrNull = (value: Ticks | null): number | null =>
  value === null ? null : ticksToSeconds(value);

export const fadeFromFile = ({ length, shape }: z.output<typeof fade>): Fade => ({
  length: secondsToTicks(length),
  shape,
});
export const fadeToFile = ({ length, shape }: Fade): z.output<typeof fade> => ({
  length: ticksToSeconds(length),
  shape,
});

/** @param idAt the id of a track by its number, from 1 */
export const partFromFile = (
  { limit, first, ...part }: FilePart,
  idAt: (number: number) => string,
): PartSettings => ({ ...part, first: idAt(first), limit: ticksOrNull(limit) });

/** @param numberOf the number of a track by its id, from 1; null: it is not there */
export const partsToFile = (
  parts: readonly PartSettings[],
  numberOf: (id: string) => number | null,
): FilePart[] =>
  parts.map(({ first, limit, ...part }, i) => ({
    ...part,
    first: i === 0 ? 1 : (numberOf(first) ?? 1),
    limit: secondsOrNull(limit),
  }));

/** Reports a fault of a file by its path. */
export type ReportFault = (path: (string | number)[], message: string) => void;

/** @param count tracks that the parts share out */
export function demandParts(
  parts: readonly FilePart[],
  count: number,
  at: readonly (string | number)[],
  report: ReportFault,
): void {
  const fault = (i: number, field: string, message: string): void => report([...at, i, field], message);
  parts.forEach(({ first }, i) => {
    const before = parts[i - 1];
    if (!before && first !== 1) fault(i, 'first', `The first part begins with track 1, not ${first}.`);
    else if (before && first <= before.first)
      fault(
        i,
        'first',
        `Track ${first} does not come after track ${before.first}, the first of the previous part.`,
      );
    else if (first > count)
      fault(
        i,
        'first',
        `There is no track ${first}; ${at.length > 1 ? 'the edition' : 'the album'} has ${count}.`,
      );
  });
}
