import { isUntreated, type AlbumTreatment } from '@oiseau/audio/stages';
import type { Fade, PlayedRegion } from './region.js';
import type { Sequence } from './sequence.js';

/** How one field of a region is told. A field whose value does nothing may be told as nothing, so that older seeds stay as they were. */
type Telling<Value> = (value: Value) => readonly unknown[];

const fade: Telling<Fade> = ({ length, shape }) => [[length, shape]];
const treatment: Telling<AlbumTreatment> = (value) => (isUntreated(value) ? [] : [value]);
const plainly: Telling<unknown> = (value) => [value];

/** Every field of a region except its master. A new field doesn't compile until it has an entry here. */
const TOLD: { readonly [Field in Exclude<keyof PlayedRegion, 'master'>]-?: Telling<PlayedRegion[Field]> } = {
  in: plainly,
  out: plainly,
  gapBefore: plainly,
  gainDb: plainly,
  fadeIn: fade,
  fadeOut: fade,
  sound: treatment,
  shift: (value) => (value ? [['shift', value]] : []),
};
const FIELDS = Object.keys(TOLD) as (keyof typeof TOLD)[];

/** How a master is told: by its name where it must be that very file, by what its words are where any file like it will do. */
export type TellMaster = (master: string) => readonly unknown[];

/** Tells masters by their names: two keys are equal only where the same files are heard. */
export const byName: TellMaster = (master) => [master];

/**
 * Everything of a region that decides its sound: two regions with one key sound alike. What was measured of a region is kept by
 * this key.
 */
export const regionTold = (region: PlayedRegion, tell: TellMaster): readonly unknown[] => [
  ...tell(region.master),
  ...FIELDS.flatMap((field) => (TOLD[field] as Telling<unknown>)(region[field])),
];

/**
 * The sound key of a sequence, as text: everything that decides what is heard of it, and nothing else. It seeds the dither, so that a
 * new title leaves every sample as it was, and it tells whether an edit changes what the player plays.
 */
export const soundKey = ({ songs, endPause, sound }: Sequence, tell: TellMaster = byName): string =>
  JSON.stringify([endPause, songs.map(({ region }) => regionTold(region, tell)), ...treatment(sound)]);
