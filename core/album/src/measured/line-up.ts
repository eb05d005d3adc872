import type { LineUp } from '@oiseau/audio/measure';
import { samples, samplesToTicks, type Ticks } from '@oiseau/audio/time';
import { regionSchema } from '../model/region.js';
import type { Song } from '../model/song.js';
import * as z from '@oiseau/audio/z';

/** A question: how much later is another recording of a song than its master? */
export const lineUpQuestionSchema = z.strictObject({
  kind: z.literal('line-up'),
  master: regionSchema.shape.master,
  other: regionSchema.shape.master,
});
export type LineUpQuestion = z.output<typeof lineUpQuestionSchema>;

/** What was found; null where nothing shows it. */
export interface LineUpFigures {
  readonly found: LineUp | null;
}
export type LineUpsByName = ReadonlyMap<string, LineUpFigures>;

/** What tells a question from all others, as text. */
export const nameOfLineUp = ({ master, other }: Omit<LineUpQuestion, 'kind'>): string => `${master} ${other}`;

/** All that there is to be asked of the recordings of an album, each once. */
export function lineUpsOf({ songs }: { readonly songs: readonly Song[] }): LineUpQuestion[] {
  const all = songs.flatMap(({ region, alternates }) =>
    Object.values(alternates).map(({ master }): LineUpQuestion => ({
      ...{ kind: 'line-up', master: region.master, other: master },
    })),
  );
  return [...new Map(all.map((each) => [nameOfLineUp(each), each])).values()];
}

/** The shift that lines a recording up, as an alternate has it. */
export const shiftOf = ({ samples: by, rate }: LineUp): Ticks => samplesToTicks(samples(by), rate);
