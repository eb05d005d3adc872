import { compressed, compressorStage } from './compressor.js';
import { equalised, equaliserStage } from './equaliser.js';
import { limited, limiterStage } from './limiter.js';
import { RideSource, rideStage } from './ride.js';
import type { Stage, StageSound } from './stage.js';
import { widened, widthStage } from './width.js';

/**
 * Every stage of a treatment, in the order in which they work. A sixth is a file beside this one and a line in each of the two tables; the build
 * breaks until both are there. Settings and sounds are two tables, so that a bundle that asks for settings alone holds no code that computes.
 */
export const STAGES = {
  ride: rideStage,
  equaliser: equaliserStage,
  width: widthStage,
  compressor: compressorStage,
  limiter: limiterStage,
} as const;

export type StageName = keyof typeof STAGES;
/** The settings of a stage that is there. */
export type StageSettings<Name extends StageName> = Parameters<(typeof STAGES)[Name]['isNeutral']>[0];

/** The sound of each stage. */
export const STAGE_SOUNDS: Readonly<Record<StageName, StageSound<never>>> = {
  ride: (source, ride) => new RideSource(source, ride),
  equaliser: equalised,
  width: widened,
  compressor: compressed,
  limiter: limited,
};

export const STAGE_NAMES = Object.keys(STAGES) as readonly StageName[];

/** A stage by its name, whatever its settings are. */
export const stageOf = (name: StageName): Stage<unknown> => STAGES[name] as unknown as Stage<unknown>;

/** Stages with a gain of their own that reduces. */
export type ReducingStage = {
  [Name in StageName]: (typeof STAGES)[Name] extends { readonly makeupDb: unknown } ? Name : never;
}[StageName];
export const REDUCING_STAGES = STAGE_NAMES.filter(
  (name): name is ReducingStage => stageOf(name).makeupDb !== undefined,
);
