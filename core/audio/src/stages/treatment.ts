import * as z from '../schema/z.js';
import { compressorIsNeutral, compressorSchema, type Compressor } from './compressor-settings.js';
import { equaliserIsNeutral, equaliserSchema, type Equaliser } from './equaliser-settings.js';
import { limiterSchema, type Limiter } from './limiter-settings.js';
import { constantOf, rangeOf, type MovingDb } from './automation.js';
import { rideIsNeutral, rideSchema } from './ride-settings.js';
import { widthIsNeutral, widthSchema, type Width } from './width-settings.js';

/** What is done to the sound of a song or of an album; what is not there does nothing (docs/rules.md 10). */
export const treatmentSchema = z.strictObject({
  ride: rideSchema.default(0),
  equaliser: equaliserSchema.default([]),
  width: widthSchema.nullable().default(null),
  compressor: compressorSchema.nullable().default(null),
  limiter: limiterSchema.nullable().default(null),
});
export type Treatment = z.output<typeof treatmentSchema>;

/** What is done to the mixed programme of each part: all but a ride. */
export const albumTreatmentSchema = treatmentSchema.omit({ ride: true });
export type AlbumTreatment = z.output<typeof albumTreatmentSchema>;

export const NO_ALBUM_TREATMENT: AlbumTreatment = {
  ...{ equaliser: [], width: null, compressor: null, limiter: null },
};
export const NO_TREATMENT: Treatment = { ride: 0, ...NO_ALBUM_TREATMENT };

/** One stage as its settings tell it: whether they do anything, and what they are in a few words. */
interface Stage<Settings> {
  readonly isNeutral: (settings: Settings) => boolean;
  readonly words: (settings: Settings) => string;
  /** Of a stage that takes away by a gain of its own: what it lifts everything by, dB. */
  readonly makeupDb?: (settings: Settings) => number;
}

const decibels = (db: number): string => `${db > 0 ? '+' : db < 0 ? '−' : ''}${Math.abs(db)} dB`;

function movingWords(value: MovingDb): string {
  const constant = constantOf(value);
  if (constant !== null) return decibels(constant);
  const { least, most } = rangeOf(value);
  return `${decibels(least)} to ${decibels(most)}`;
}

const hertz = (hz: number): string =>
  hz >= 1000 ? `${Math.round(hz / 100) / 10} kHz` : `${Math.round(hz)} Hz`;

const BAND_NAMES = {
  bell: 'bell',
  'low-shelf': 'low shelf',
  'high-shelf': 'high shelf',
  'low-cut': 'low cut',
  'high-cut': 'high cut',
} as const;

/** Every stage, in the order in which they work. A sixth is its settings, here and in the schema above, and its sound, in `treated.ts`; the build breaks until both are there. */
const STAGES: { readonly [Name in keyof Treatment]: Stage<NonNullable<Treatment[Name]>> } = {
  ride: {
    isNeutral: rideIsNeutral,
    words: (ride) => `ride ${movingWords(ride)}`,
  },
  equaliser: {
    isNeutral: equaliserIsNeutral,
    words: (bands: Equaliser) =>
      bands
        .map((band) =>
          [BAND_NAMES[band.kind], hertz(band.hz), ...('db' in band ? [movingWords(band.db)] : [])].join(' '),
        )
        .join(', '),
  },
  width: {
    isNeutral: widthIsNeutral,
    words: ({ side, monoBelow }: Width) =>
      [
        ...(constantOf(side) === 0 ? [] : [`sides ${movingWords(side)}`]),
        ...(monoBelow > 0 ? [`mono below ${hertz(monoBelow)}`] : []),
      ].join(', '),
  },
  compressor: {
    isNeutral: compressorIsNeutral,
    makeupDb: ({ makeup }) => makeup,
    words: ({ ratio, threshold }: Compressor) => `compressor ${ratio}:1 over ${decibels(threshold)}`,
  },
  limiter: {
    // Where nothing comes over its ceiling it does nothing, which nobody knows before it has heard everything.
    isNeutral: () => false,
    makeupDb: () => 0,
    words: ({ drive, ceiling }: Limiter) =>
      `limiter ${decibels(ceiling)}${constantOf(drive) === 0 ? '' : `, drive ${movingWords(drive)}`}`,
  },
};
const NAMES = Object.keys(STAGES) as (keyof Treatment)[];

/** Every stage of a treatment that does anything, with its settings. */
export function workingStages(
  given: AlbumTreatment & Partial<Treatment>,
): { readonly name: keyof Treatment; readonly stage: Stage<unknown>; readonly settings: unknown }[] {
  const treatment: Treatment = { ...NO_TREATMENT, ...given };
  return NAMES.flatMap((name) => {
    const [stage, settings] = [STAGES[name] as Stage<unknown>, treatment[name]];
    return settings === null || stage.isNeutral(settings) ? [] : [{ name, stage, settings }];
  });
}

/** Whether nothing is done: the samples are the same bits. */
export const isUntreated = (treatment: AlbumTreatment): boolean => workingStages(treatment).length === 0;

/** What is done, a few words for each stage, in the order in which they work. */
export const treatmentWords = (treatment: AlbumTreatment): string[] =>
  workingStages(treatment).map(({ stage, settings }) => stage.words(settings));
