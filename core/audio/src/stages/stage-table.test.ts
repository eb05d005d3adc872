import { english } from '@oiseau/messages';
import { describe, expect, it } from 'vitest';
import { REDUCING_STAGES, STAGE_NAMES, stageOf } from './stages.js';
import {
  automatedValues,
  NO_ALBUM_TREATMENT,
  NO_TREATMENT,
  reducesGain,
  treatmentSchema,
} from './treatment.js';

describe('the table of stages', () => {
  it('works in a fixed order; two stages reduce gain', () => {
    expect(STAGE_NAMES).toEqual(['ride', 'equaliser', 'width', 'compressor', 'limiter']);
    expect(REDUCING_STAGES).toEqual(['compressor', 'limiter']);
  });

  it.each(STAGE_NAMES)(
    '%s: a treatment without it reads as absent, and what is added is within its limits',
    (name) => {
      const { schema, absent, added } = stageOf(name);
      expect(schema.parse(undefined)).toEqual(absent);
      expect(schema.parse(added)).toEqual(added);
    },
  );

  it.each(STAGE_NAMES)('%s: every figure goes exactly as far as the schema', (name) => {
    const { schema, figures, added } = stageOf(name);
    const reads = (settings: unknown): boolean => schema.safeParse(settings).success;
    for (const { label, range, off, changed } of figures) {
      for (const value of range)
        expect(reads(changed(added, value)), `${english(label)} ${value}`).toBe(true);
      expect(reads(changed(added, range[1] + 1)), `${english(label)} over its most`).toBe(false);
      if (!off) expect(reads(changed(added, range[0] - 1)), `${english(label)} under its least`).toBe(false);
    }
  });

  it.each(STAGE_NAMES)('%s: every automated value goes exactly as far as the schema', (name) => {
    const { schema, automated, added } = stageOf(name);
    const reads = (settings: unknown): boolean => schema.safeParse(settings).success;
    for (const { label, range, changed } of automated(added)) {
      for (const value of range) expect(reads(changed(value)), `${english(label)} ${value}`).toBe(true);
      expect(reads(changed([{ at: 0, db: range[1] + 1 }])), `${english(label)} over its most`).toBe(false);
      expect(reads(changed(range[0] - 1)), `${english(label)} under its least`).toBe(false);
    }
  });
});

describe('the values of a treatment that may be automated', () => {
  const treatment = treatmentSchema.parse({
    ride: -2,
    equaliser: [
      { kind: 'bell', hz: 900, db: 3, q: 1 },
      { kind: 'low-cut', hz: 28, slope: 24 },
    ],
    limiter: { drive: 4, ceiling: -1, release: 80 },
  });

  it('are those of the stages that are there, in their order', () => {
    expect(automatedValues(treatment).map(({ label, value }) => [english(label), value])).toEqual([
      ['Gain ride', -2],
      ['bell 900 Hz', 3],
      ['Drive', 4],
    ]);
    const { ride: _, ...album } = treatment;
    expect(automatedValues(album).map(({ label }) => english(label))).toEqual(['bell 900 Hz', 'Drive']);
  });

  it('change one value and leave the rest', () => {
    const drive = automatedValues(treatment).at(-1);
    expect(drive?.changed(6)).toEqual({ ...treatment, limiter: { drive: 6, ceiling: -1, release: 80 } });
    const bell = automatedValues(treatment)[1];
    expect(bell?.changed(-1).equaliser).toEqual([
      { kind: 'bell', hz: 900, db: -1, q: 1 },
      { kind: 'low-cut', hz: 28, slope: 24 },
    ]);
  });

  it('tell a treatment that reduces gain', () => {
    expect(reducesGain(treatment)).toBe(true);
    expect(reducesGain(NO_TREATMENT)).toBe(false);
    expect(reducesGain(NO_ALBUM_TREATMENT)).toBe(false);
  });
});
