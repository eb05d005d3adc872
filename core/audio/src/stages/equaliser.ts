import { atMost } from '../schema/at-most.js';
import { constantOf, movingDb, rangeOf, valueAt } from './automation.js';
import * as z from '../schema/z.js';
import { type Block, type PcmSource } from '../pcm/block.js';
import { coefficientsOf, memoryOf, outermostPole, runSections, stepSections, tidyMemory } from './biquads.js';
import { fitSection, type Fitted } from './fit.js';
import { type AnalogueSection, bell, highCut, highShelf, lowCut, lowShelf, powerOf } from './prototype.js';
import {
  RecursiveSource,
  settleOf,
  type Recursion,
  type RecursionKind,
  type Soon,
} from './recursive-source.js';
import { type Stage } from './stage.js';
import { hertz, movingWords } from './stage-words.js';
import { joined as joinedText, msg } from '@oiseau/messages';

/** Of a band, dB. */
const GAIN_DB = [-24, 24] as const;
const hz = z.number().min(10).max(40_000);
const lifting = { hz, db: movingDb(...GAIN_DB), q: z.number().min(0.1).max(20) };
const cutting = { hz, slope: z.literal([12, 24]) };

/** One band (docs/rules.md 10). */
export const bandSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('bell'), ...lifting }),
  z.strictObject({ kind: z.literal('low-shelf'), ...lifting }),
  z.strictObject({ kind: z.literal('high-shelf'), ...lifting }),
  z.strictObject({ kind: z.literal('low-cut'), ...cutting }),
  z.strictObject({ kind: z.literal('high-cut'), ...cutting }),
]);
export type Band = z.output<typeof bandSchema>;

export const equaliserSchema = atMost(12, 'bands', z.array(bandSchema));
export type Equaliser = readonly Band[];

/** A band that lifts and cuts nothing. */
export const bandIsNeutral = (band: Band): boolean => 'db' in band && constantOf(band.db) === 0;
export const equaliserIsNeutral = (bands: Equaliser): boolean => bands.every(bandIsNeutral);

const BAND_NAMES = {
  bell: msg('bell'),
  'low-shelf': msg('low shelf'),
  'high-shelf': msg('high shelf'),
  'low-cut': msg('low cut'),
  'high-cut': msg('high cut'),
} as const;

export const equaliserStage = {
  label: msg('Equaliser'),
  schema: equaliserSchema.default([]),
  ...{ absent: [], added: [] },
  isNeutral: equaliserIsNeutral,
  words: (bands) =>
    joinedText(
      bands.map((band) => {
        const values = { band: BAND_NAMES[band.kind], frequency: hertz(band.hz) };
        return 'db' in band
          ? msg('{band} {frequency} {gain}', { ...values, gain: movingWords(band.db) })
          : msg('{band} {frequency}', values);
      }),
    ),
  automated: (bands) =>
    bands.flatMap((band, place) =>
      'db' in band
        ? [
            {
              ...{
                label: msg('{band} {frequency}', { band: BAND_NAMES[band.kind], frequency: hertz(band.hz) }),
                value: band.db,
                range: GAIN_DB,
              },
              changed: (db) => bands.map((each, i) => (i === place ? { ...band, db } : each)),
            },
          ]
        : [],
    ),
  // Its bands are set one by one.
  figures: [],
} as const satisfies Stage<Equaliser>;

/** The prototype of a band at one gain. */
export function prototypeOf(band: Band, db: number): AnalogueSection[] {
  switch (band.kind) {
    case 'bell':
      return [bell(db, band.q)];
    case 'low-shelf':
      return [lowShelf(db, band.q)];
    case 'high-shelf':
      return [highShelf(db, band.q)];
    case 'low-cut':
      return lowCut(band.slope);
    case 'high-cut':
      return highCut(band.slope);
    default:
      return band satisfies never;
  }
}

/**
 * What bands do at a frequency, dB: the response of their prototypes, to which the digital ones keep (docs/rules.md 10).
 * @param seconds the moment, for values that move
 */
export const responseDb = (bands: Equaliser, hz: number, seconds = 0): number =>
  bands.reduce((sum, band) => {
    const db = 'db' in band ? valueAt(band.db, 1000)(1000 * seconds) : 0;
    const power = prototypeOf(band, db).reduce((all, section) => all * powerOf(section, band.hz, hz), 1);
    return sum + 10 * Math.log10(Math.max(1e-12, power));
  }, 0);

/** Designs of a moving band lie so far apart, dB; between them its coefficients are interpolated. */
const STEP_DB = 0.5;

/** A band at one rate. */
interface Designed {
  /** Coefficients of a band that does not move, or at each step of one that does. */
  readonly steps: readonly Float64Array[];
  /** The gain of the first step, dB. */
  readonly firstDb: number;
  readonly value: ((position: number) => number) | null;
}

function designed(band: Band, rate: number): Designed {
  const constant = 'db' in band ? constantOf(band.db) : 0;
  if (constant !== null || !('db' in band)) {
    const sections = prototypeOf(band, constant ?? 0).flatMap(
      (each) => fitSection(each, band.hz, rate).sections,
    );
    return { steps: [coefficientsOf(sections)], firstDb: 0, value: null };
  }
  const { least, most } = rangeOf(band.db);
  const [first, last] = [Math.floor(least / STEP_DB), Math.ceil(most / STEP_DB)];
  const at = (step: number): AnalogueSection => prototypeOf(band, step * STEP_DB)[0] as AnalogueSection;
  // As many sections throughout as the hardest end needs; each step is sought from its neighbour, so that nothing leaps between them.
  const count = Math.max(...[first, last].map((step) => fitSection(at(step), band.hz, rate).sections.length));
  let near: Fitted | undefined;
  const steps = Array.from({ length: last - first + 1 }, (_, i) => {
    near = fitSection(at(first + i), band.hz, rate, { near, least: count });
    return coefficientsOf(near.sections);
  });
  return { steps, firstDb: first * STEP_DB, value: valueAt(band.db, rate) };
}

/** Designs are made once for each band and rate. */
const known = new Map<string, Designed>();
const MOST_KNOWN = 400;

function designOf(band: Band, rate: number): Designed {
  const key = JSON.stringify([band, rate]);
  const found = known.get(key) ?? designed(band, rate);
  if (known.size >= MOST_KNOWN) known.clear();
  known.set(key, found);
  return found;
}

class EqualiserRun implements Recursion {
  readonly #memories: readonly Float64Array[];

  constructor(readonly bands: readonly Designed[]) {
    this.#memories = bands.map(({ steps }) => memoryOf(steps[0] ?? []));
  }

  run(block: Block, at: number): void {
    this.bands.forEach((band, i) => {
      const memory = this.#memories[i] as Float64Array;
      const [only] = band.steps;
      if (!band.value && only) runSections(block, only, memory);
      else runMoving(band, block, at, memory);
    });
  }

  tidy(): void {
    this.#memories.forEach(tidyMemory);
  }
}

/** Bands that stand one after the other and do not move, as one: they share a walk over the audio. */
function joined(bands: readonly Designed[]): Designed[] {
  const all: Designed[] = [];
  for (const band of bands) {
    const last = all.at(-1);
    if (last && !last.value && !band.value)
      all[all.length - 1] = {
        ...last,
        steps: [Float64Array.from([last, band].flatMap(({ steps }) => [...(steps[0] ?? [])]))],
      };
    else all.push(band);
  }
  return all;
}

function runMoving(
  { steps, firstDb, value }: Designed,
  { left, right }: Block,
  at: number,
  memory: Float64Array,
): void {
  const now = new Float64Array(steps[0]?.length ?? 0);
  for (let i = 0; i < left.length; i++) {
    const place = ((value?.(at + i) ?? 0) - firstDb) / STEP_DB;
    const under = Math.max(0, Math.min(steps.length - 2, Math.floor(place)));
    const share = Math.max(0, Math.min(1, place - under));
    const [from, to] = [steps[under] as Float64Array, (steps[under + 1] ?? steps[under]) as Float64Array];
    for (let k = 0; k < now.length; k++)
      now[k] = (from[k] as number) + share * ((to[k] as number) - (from[k] as number));
    stepSections(left, right, i, now, memory);
  }
}

/** The equaliser at one rate. */
export function equaliserKind(bands: Equaliser, rate: number): RecursionKind {
  const designs = bands.filter((band) => !bandIsNeutral(band)).map((band) => designOf(band, rate));
  const together = joined(designs);
  const poles = designs.flatMap(({ steps }) => steps.map(outermostPole));
  // Sections of one band ring one after the other: together they take longer than each by itself.
  return { settle: 2 * settleOf(Math.max(0, ...poles)), begin: () => new EqualiserRun(together) };
}

/** A source through an equaliser. */
export const equalised = (source: PcmSource, bands: Equaliser, soon: Soon = false): PcmSource =>
  new RecursiveSource(source, equaliserKind(bands, source.rate), soon);
