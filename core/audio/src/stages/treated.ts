import type { PcmSource } from '../pcm/block.js';
import { compressed } from './compressor.js';
import { equalised } from './equaliser.js';
import { KeptSource } from './kept-source.js';
import { LimitedSource } from './limiter.js';
import type { Soon } from './recursive-source.js';
import { RideSource } from './ride.js';
import { workingStages, type AlbumTreatment, type Treatment } from './treatment.js';
import { widened } from './width.js';

type Applied<Settings> = (source: PcmSource, settings: Settings, soon: Soon) => PcmSource;

/** What each stage does to a source. */
const SOUNDS: { readonly [Name in keyof Treatment]: Applied<NonNullable<Treatment[Name]>> } = {
  ride: (source, ride) => new RideSource(source, ride),
  equaliser: equalised,
  width: widened,
  compressor: compressed,
  limiter: (source, limiter, soon) => new LimitedSource(source, limiter, soon),
};

/**
 * Is told of each stage that does anything: what goes into it and what comes out, both of which may be read again where they were just read.
 * @param makeupDb what it lifts everything by, beside what it takes away
 */
export type OnStage = (name: keyof Treatment, before: PcmSource, after: PcmSource, makeupDb: number) => void;

export interface TreatedOptions {
  readonly onStage?: OnStage | undefined;
  readonly soon?: Soon;
}

/** A source through every stage that does anything; the very source where none does. */
export function treated(
  source: PcmSource,
  treatment: AlbumTreatment,
  { onStage, soon = false }: TreatedOptions = {},
): PcmSource {
  return workingStages(treatment).reduce((from, { name, stage, settings }) => {
    const applied = SOUNDS[name] as Applied<unknown>;
    const reduces = stage.makeupDb?.(settings);
    if (!onStage || reduces === undefined) return applied(from, settings, soon);
    const before = new KeptSource(from);
    const made = applied(before, settings, soon);
    const after = made instanceof LimitedSource ? made : new KeptSource(made);
    onStage(name, before, after, reduces);
    return after;
  }, source);
}
