import { expect, it } from 'vitest';
import { treatmentSchema } from '../process/treatment.js';
import { sequence, sequenced, source, words16 } from '../testing.js';
import { Programme } from './programme.js';

const RATE = 44_100;
const USUAL = 4 * RATE;

function cuts(programme: Programme, end: number): { cut: number; inTurn: boolean }[] {
  const all = [];
  for (let at = 0; at < end;) {
    const next = programme.cutAfter(at, end, USUAL);
    expect(next.cut).toBeGreaterThan(at);
    all.push(next);
    at = next.cut;
  }
  return all;
}

const programmeOf = (sound: object, seconds: number): Programme =>
  new Programme(
    sequence(sequenced('t', seconds, { sound: treatmentSchema.parse(sound) })),
    new Map([['m', source(RATE, seconds, words16)]]),
    RATE,
  );

it('what has no memory is cut every four seconds, on their grid', () => {
  const all = cuts(programmeOf({}, 17), 15 * RATE);
  expect(all).toEqual([4, 8, 12, 15].map((second) => ({ cut: second * RATE, inTurn: false })));
});

it('an equaliser is cut half a second behind places where it begins anew', () => {
  // A bell of 900 Hz, Q 1 settles within 40·ln 2/(π·900/1) s, twice that for two sections: a stretch is the two seconds that it is at the least.
  const all = cuts(programmeOf({ equaliser: [{ kind: 'bell', hz: 900, db: 2, q: 1 }] }, 60), 60 * RATE);
  expect(all.every(({ inTurn }) => !inTurn)).toBe(true);
  // The song begins at 2 s.
  for (const { cut } of all.slice(1, -1)) expect((cut - 2 * RATE - RATE / 2) % (2 * RATE)).toBe(0);
  const lengths = all.slice(1, -1).map(({ cut }, i) => cut - (all[i]?.cut ?? 0));
  for (const length of lengths) expect(length).toBeLessThanOrEqual(8 * RATE);
});

it('a slow release is read in turn', () => {
  // 40·ln 2·0.2 s of settling, eight times that for a stretch: 44 s.
  const compressor = { threshold: -20, ratio: 2, attack: 20, release: 200, knee: 6, makeup: 0 };
  const all = cuts(programmeOf({ compressor }, 30), 30 * RATE);
  expect(all[0]).toEqual({ cut: 4 * RATE, inTurn: false });
  expect(all.slice(1).every(({ inTurn }) => inTurn)).toBe(true);
});
