import type { Message } from '@oiseau/messages';
import * as z from '../schema/z.js';
import type { AutomatedValue, Stage } from './stage.js';
import { REDUCING_STAGES, STAGE_NAMES, STAGES, stageOf, type StageName } from './stages.js';

/** The schema of every stage, by name. */
const schemasOf = <T extends Readonly<Record<string, { readonly schema: z.ZodType }>>>(
  stages: T,
): { [Name in keyof T]: T[Name]['schema'] } =>
  Object.fromEntries(Object.entries(stages).map(([name, { schema }]) => [name, schema])) as {
    [Name in keyof T]: T[Name]['schema'];
  };

/** The treatment of a track or of an album; a stage that is not there does nothing (docs/rules.md 10). */
export const treatmentSchema = z.strictObject(schemasOf(STAGES));
export type Treatment = z.output<typeof treatmentSchema>;

/** The treatment of the mixed programme of each part: every stage but the ride. */
export const albumTreatmentSchema = treatmentSchema.omit({ ride: true });
export type AlbumTreatment = z.output<typeof albumTreatmentSchema>;

/** Every stage of another treatment that replaces one, by name; a stage that is not named stays. */
const overridesOf = <T extends Readonly<Record<string, { readonly schema: z.ZodDefault }>>>(
  stages: T,
): { [Name in keyof T]: T[Name]['schema'] extends z.ZodDefault<infer S> ? z.ZodOptional<S> : never } =>
  Object.fromEntries(
    Object.entries(stages).map(([name, { schema }]) => [name, (schema.unwrap() as z.ZodType).optional()]),
  ) as never;

export const treatmentOverridesSchema = z.strictObject(overridesOf(STAGES));
export const albumTreatmentOverridesSchema = treatmentOverridesSchema.omit({ ride: true });
type Overrides = z.output<typeof treatmentOverridesSchema>;

/** A treatment with some of its stages replaced. */
export const withStages = <T extends AlbumTreatment>(treatment: T, overrides: Overrides): T => ({
  ...treatment,
  ...Object.fromEntries(Object.entries(overrides).filter(([, stage]) => stage !== undefined)),
});

export const NO_TREATMENT: Treatment = treatmentSchema.parse({});
export const NO_ALBUM_TREATMENT: AlbumTreatment = albumTreatmentSchema.parse({});

/** Every stage of a treatment that changes the sound, with its settings. */
export function workingStages(
  given: AlbumTreatment & Partial<Treatment>,
): { readonly name: StageName; readonly stage: Stage<unknown>; readonly settings: unknown }[] {
  const treatment: Treatment = { ...NO_TREATMENT, ...given };
  return STAGE_NAMES.flatMap((name) => {
    const [stage, settings] = [stageOf(name), treatment[name]];
    return settings === null || stage.isNeutral(settings) ? [] : [{ name, stage, settings }];
  });
}

/** Whether nothing is changed: the samples are the same bits. */
export const isUntreated = (treatment: AlbumTreatment): boolean => workingStages(treatment).length === 0;

/** A treatment in a few words for each stage, in the order in which they work. */
export const treatmentWords = (treatment: AlbumTreatment): Message[] =>
  workingStages(treatment).map(({ stage, settings }) => stage.words(settings));

/** Whether a stage that reduces peaks or level is there. */
export const reducesGain = (treatment: AlbumTreatment): boolean =>
  REDUCING_STAGES.some((name) => treatment[name] !== null);

/** Every value of a treatment that may be automated, in the order of the stages; `changed` gives the treatment with another value. */
export function automatedValues<T extends AlbumTreatment>(treatment: T): AutomatedValue<T>[] {
  return STAGE_NAMES.flatMap((name) => {
    const settings = (treatment as AlbumTreatment & Partial<Treatment>)[name] ?? null;
    if (settings === null) return [];
    return stageOf(name)
      .automated(settings)
      .map((value) => ({ ...value, changed: (to) => ({ ...treatment, [name]: value.changed(to) }) }));
  });
}
