import { expect, it } from 'vitest';
import { treatmentSchema } from '@oiseau/audio/stages';
import { sequence, sequenced } from '@oiseau/album/testing';
import { source, words16 } from '@oiseau/audio/testing';
import { Programme, type Cut } from './programme.js';

const RATE = 44_100;
const USUAL = 4 * RATE;

function cuts(programme: Programme, end: number): Cut[] {
  const all: Cut[] = [];
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
  expect(all).toEqual([4, 8, 12, 15].map((second) => ({ cut: second * RATE, run: null })));
});

it('an equaliser is cut half a second behind places where it begins anew', () => {
  // A bell of 900 Hz, Q 1 settles within 40·ln 2/(π·900/1) s, twice that for two sections: a stretch is the two seconds that it is at the least.
  const all = cuts(programmeOf({ equaliser: [{ kind: 'bell', hz: 900, db: 2, q: 1 }] }, 60), 60 * RATE);
  expect(all.every(({ run }) => run === null)).toBe(true);
  // The song begins at 2 s.
  for (const { cut } of all.slice(1, -1)) expect((cut - 2 * RATE - RATE / 2) % (2 * RATE)).toBe(0);
  const lengths = all.slice(1, -1).map(({ cut }, i) => cut - (all[i]?.cut ?? 0));
  for (const length of lengths) expect(length).toBeLessThanOrEqual(8 * RATE);
});

it('a slow release is read in runs, each of which begins where least is to be worked through', () => {
  // It settles within 40·ln 2·0.195 s of the release, 0.8 s of the lowest all-pass (5.4 Hz) and 0.19 s of the power (a third of the attack):
  // 6.4 s. It begins anew every 8 times as long, 51.1 s of the song, which begins at 2 s: at 53.1 and 104.3 s. Stretches lie on the grid of
  // four seconds, half a second before which is read as well: the first that begin behind those places do so at 56 and at 108 s.
  const compressor = { threshold: -20, ratio: 2, attack: 20, release: 195, knee: 6, makeup: 0 };
  const all = cuts(programmeOf({ compressor }, 160), 160 * RATE);
  expect(all[0]).toEqual({ cut: 4 * RATE, run: null });
  const runs = all.slice(1).map(({ run }) => run);
  expect(new Set(runs.map((run) => (run?.from ?? NaN) / RATE))).toEqual(new Set([0, 56, 108]));
  expect(runs.every((run) => run?.stretches === 13)).toBe(true);
  const second = all.findIndex(({ cut }) => cut === 56 * RATE);
  expect(all[second]?.run?.from).toBe(0);
  expect(all[second + 1]?.run?.from).toBe(56 * RATE);
});
