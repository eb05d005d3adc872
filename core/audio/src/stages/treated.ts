import type { PcmSource } from '../pcm/block.js';
import { KeptSource } from './kept-source.js';
import { LimitedSource } from './limiter.js';
import type { Soon } from './recursive-source.js';
import type { StageSound } from './stage.js';
import { STAGE_SOUNDS, type StageName } from './stages.js';
import { workingStages, type AlbumTreatment } from './treatment.js';

/**
 * Is told of each stage that does anything: what goes into it and what comes out, both of which may be read again where they were just read.
 * @param makeupDb what it lifts everything by, beside what it takes away
 */
export type OnStage = (name: StageName, before: PcmSource, after: PcmSource, makeupDb: number) => void;

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
    const applied = STAGE_SOUNDS[name] as StageSound<unknown>;
    const reduces = stage.makeupDb?.(settings);
    if (!onStage || reduces === undefined) return applied(from, settings, soon);
    const before = new KeptSource(from);
    const made = applied(before, settings, soon);
    const after = made instanceof LimitedSource ? made : new KeptSource(made);
    onStage(name, before, after, reduces);
    return after;
  }, source);
}
