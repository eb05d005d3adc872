import {
  type ReducingStage,
  NO_TREATMENT,
  albumTreatmentSchema,
  isUntreated,
  treatmentSchema,
} from '@oiseau/audio/stages';
import type { MasterMeasurement, Measurement } from '@oiseau/audio/measure';
import type { Part } from '../layout/part.js';
import { regionSchema, ticksSchema } from '../model/region.js';
import type { Sequence, SequencedSong } from '../model/sequence.js';
import * as z from '@oiseau/audio/z';

/** A master with a gain and what is done to it after that, whole: whatever is cut from it is not measured anew when it is trimmed. */
const songSoundSchema = z.strictObject({
  kind: z.literal('song'),
  master: regionSchema.shape.master,
  gainDb: regionSchema.shape.gainDb,
  sound: treatmentSchema,
});

/** All songs of a part with what is done to the album. */
export const partSoundSchema = z.strictObject({
  kind: z.literal('part'),
  songs: z
    .array(z.strictObject({ id: z.string().min(1).max(40), region: regionSchema.required({ out: true }) }))
    .max(99),
  endPause: ticksSchema,
  sound: albumTreatmentSchema,
});

/**
 * Something whose figures are those of a treatment, and so must be measured by itself. Two that are equal sound alike: figures are kept by
 * `nameOfSound`, and can't be those of another state of the album.
 */
export const measuredSoundSchema = z.discriminatedUnion('kind', [songSoundSchema, partSoundSchema]);
export type MeasuredSound = z.output<typeof measuredSoundSchema>;

/** The most that a stage takes away, and for how much of the time it does. */
export interface ReductionFigures {
  /** dB, 0 or more. */
  readonly mostDb: number;
  /** Share of the time, 0 to 1, in which it takes so much that it is a tenth of a decibel when rounded. */
  readonly share: number;
  /** Times that it begins to. */
  readonly times: number;
}

/** What was measured of a sound. */
export interface SoundFigures extends Readonly<Record<ReducingStage, ReductionFigures | null>> {
  readonly measurement: MasterMeasurement;
  /** Of a part: each song where it sounds, by id. */
  readonly songs: Readonly<Record<string, Measurement>>;
}
export type SoundFiguresByName = ReadonlyMap<string, SoundFigures>;

/** What tells a sound from all others, as text. */
export const nameOfSound = (sound: MeasuredSound): string =>
  JSON.stringify(
    sound.kind === 'song'
      ? [sound.kind, sound.master, sound.gainDb, sound.sound]
      : [sound.kind, sound.endPause, sound.sound, sound.songs.map(({ id, region }) => [id, region])],
  );

/** The sound of a song whose master is treated; null where nothing is done to it. */
export function songSound({ master, gainDb, sound }: SequencedSong['region']): MeasuredSound | null {
  return isUntreated(sound) ? null : { kind: 'song', master, gainDb, sound };
}

/** The sound of a part, where something is done to the album; else null. */
export function partSound({ sequence }: Pick<Part, 'sequence'>): MeasuredSound | null {
  return isUntreated(sequence.sound) || sequence.songs.length === 0 ? null : soundOfSequence(sequence);
}

/** All that decides how a sequence sounds. */
export function soundOfSequence({
  songs,
  endPause,
  sound,
}: Sequence): Extract<MeasuredSound, { kind: 'part' }> {
  return {
    ...{ kind: 'part', endPause, sound },
    songs: songs.map(({ id, region }) => ({
      id,
      // A treatment that does nothing is one and the same.
      region: isUntreated(region.sound) ? { ...region, sound: NO_TREATMENT } : region,
    })),
  };
}

/** Every sound of an album that must be measured by itself; none where nothing is done to it. */
export function soundsOf(parts: readonly Pick<Part, 'sequence'>[]): MeasuredSound[] {
  const all = parts.flatMap((part) => [
    ...part.sequence.songs.flatMap(({ region }) => songSound(region) ?? []),
    ...[partSound(part)].flatMap((sound) => sound ?? []),
  ]);
  return [...new Map(all.map((sound) => [nameOfSound(sound), sound])).values()];
}

/** Figures of a song as it is heard. */
export type HeardFigures = Pick<
  Measurement,
  'integratedLufs' | 'truePeakDbtp' | 'samplePeakDbfs' | 'maxShortTermLufs' | 'loudnessRangeLu'
>;

/**
 * Figures of the songs of a part as they are heard, after everything that is done to them and to the album, by id; those that are not known
 * (yet) are not there. Those of a song to which nothing but a gain is done are those of its master with that gain.
 * @param measuredOf what was measured of a master; null while that is not known
 */
export function heardFigures(
  part: Pick<Part, 'sequence'>,
  measuredOf: (master: string) => Measurement | null,
  figures: SoundFiguresByName,
): ReadonlyMap<string, HeardFigures> {
  const whole = partSound(part);
  if (whole) return new Map(Object.entries(figures.get(nameOfSound(whole))?.songs ?? {}));
  return new Map(
    part.sequence.songs.flatMap(({ id, region }) => {
      const own = songSound(region);
      const found = own
        ? figures.get(nameOfSound(own))?.measurement
        : lifted(measuredOf(region.master), region.gainDb);
      return found ? [[id, found] as const] : [];
    }),
  );
}

function lifted(measured: Measurement | null, by: number): HeardFigures | null {
  const lift = (figure: number | null): number | null => (figure === null ? null : figure + by);
  return (
    measured && {
      integratedLufs: lift(measured.integratedLufs),
      truePeakDbtp: lift(measured.truePeakDbtp),
      samplePeakDbfs: lift(measured.samplePeakDbfs),
      maxShortTermLufs: lift(measured.maxShortTermLufs),
      loudnessRangeLu: measured.loudnessRangeLu,
    }
  );
}
