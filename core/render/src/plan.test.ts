import { describe, expect, it } from 'vitest';
import { type Album, deliverableSchema } from '@oiseau/album/model';
import { layOutAlbum } from '@oiseau/album/layout';
import { album, withSong } from '@oiseau/album/testing';
import { source, words16 } from '@oiseau/audio/testing';
import { formatMsf, secondsToTicks } from '@oiseau/audio/time';
import { compareEnvelopes, Envelope } from './envelope.js';
import { planDeliverable } from './kinds/kinds.js';
import { expectedSize, type PlannedAudio, type PlannedFile } from './planned.js';
import { untouchedSongs } from './untouched.js';

const s = secondsToTicks;
const [cd, hi, plain] = [
  source(44_100, 5, words16),
  source(96_000, 6, words16, 'int24'),
  source(44_100, 7, words16),
];
const masters = new Map([
  ['a', cd],
  ['b', hi],
  ['c', plain],
]);
const nineTides = (): Album => ({
  ...album(
    { master: 'a', isrc: 'ZZOIS2600001', indexes: [s(1)] },
    { master: 'b', gapBefore: s(2) },
    { master: 'c', gapBefore: s(0) },
  ),
  upc: '2012345678903',
  catalogNumber: 'LL-7',
});
/** A plan, its files by kind, and the numbers of the tracks that it leaves as they are. */
function plan(settings: object, of = nineTides()) {
  const parts = layOutAlbum(of, masters);
  const deliverable = deliverableSchema.parse({ name: 'd', ...settings });
  const made = planDeliverable(deliverable, {
    album: of,
    parts,
    masters,
    revision: 1,
    revisionDate: '2026-11-20',
  });
  const ofKind = <K extends PlannedFile['kind']>(kind: K) =>
    made.files.filter((file): file is Extract<PlannedFile, { kind: K }> => file.kind === kind);
  return {
    ...made,
    audio: ofKind('audio'),
    sheet: ofKind('cue-sheet')[0],
    ddp: ofKind('description')[0]?.disc,
    untouched: untouchedSongs(made, parts, masters).map((id) => Number(id.slice(1))),
  };
}

describe('the plan of a disc for a plant', () => {
  it('holds the first pause, the marks with their codes, and the catalogue number', () => {
    const { audio, ddp } = plan({ kind: 'ddp' });
    // 2 + 5 + 2 + 6 + 7 = 22 s
    expect(audio).toMatchObject([{ path: 'IMAGE.DAT', coding: 'raw', length: 22 * 44_100, rate: 44_100 }]);
    expect(ddp).toMatchObject({ upc: '2012345678903', masterId: 'LL-7', leadOut: 22 * 75 });
    expect(ddp?.marks.map(({ track, index, frames }) => `${track}.${index} ${formatMsf(frames)}`)).toEqual([
      '1.0 00:00:00',
      '1.1 00:02:00',
      '1.2 00:03:00',
      '2.0 00:07:00',
      '2.1 00:09:00',
      '3.1 00:15:00',
    ]);
  });
  it('is named by its title in plain letters when it has no number', () => {
    const masterId = (title: string): string | undefined =>
      plan({ kind: 'ddp' }, { ...nineTides(), catalogNumber: '', title }).ddp?.masterId;
    expect(masterId('Émeraude')).toBe('Emeraude');
    expect(masterId('x'.repeat(60))).toBe('x'.repeat(48));
  });
});

describe('the plan of a continuous file', () => {
  it('runs from the first start mark at the highest rate, with all marks', () => {
    const { audio, sheet } = plan({ kind: 'continuous', name: 'whole', format: 'flac' });
    expect(audio).toMatchObject([{ path: 'whole.flac', rate: 96_000, length: 20 * 96_000 }]);
    expect(audio[0]?.marks.map(({ track, index, at }) => [track, index, at / 96_000])).toEqual([
      [1, 1, 0],
      [1, 2, 1],
      [2, 0, 5],
      [2, 1, 7],
      [3, 1, 13],
    ]);
    expect(sheet).toMatchObject({ path: 'whole.cue', cue: { file: 'whole.flac', audio: 'WAVE' } });
  });
  it('can be a section between marks or times; one that begins inside a track has its start at the head', () => {
    const section = (from: unknown, to: unknown) => {
      const [file] = plan({ kind: 'continuous', format: 'wav', rate: 48_000, from, to }).audio;
      return [
        (file?.length ?? 0) / 48_000,
        file?.marks.map(({ track, index, at }) => [track, index, at / 48_000]),
      ];
    };
    expect(section('2', '3')).toEqual([6, [[2, 1, 0]]]);
    expect(section('2.0', null)).toEqual([
      15,
      [
        [2, 0, 0],
        [2, 1, 2],
        [3, 1, 8],
      ],
    ]);
    expect(section(3, 8.5)).toEqual([
      5.5,
      [
        [1, 1, 0],
        [2, 0, 2],
        [2, 1, 4],
      ],
    ]);
    // The other way round, or at a mark that is not there: nothing.
    expect(section('3', '2')).toEqual([0, []]);
    expect(section('9', null)).toEqual([0, []]);
  });
});

describe('the plan of files', () => {
  it('takes the nearest rate that a coding holds, of the same family', () => {
    const rates = (settings: object): number[] =>
      plan({ kind: 'tracks', ...settings }).audio.map(({ rate }) => rate);
    expect(rates({ format: 'wav' })).toEqual([44_100, 96_000, 44_100]);
    expect(rates({ format: 'mp3' })).toEqual([44_100, 48_000, 44_100]);
    expect(rates({ format: 'opus' })).toEqual([48_000, 48_000, 48_000]);
    expect(rates({ format: 'm4a', rate: 88_200 })).toEqual([88_200, 88_200, 88_200]);
  });
  it('tells sizes: exactly, about, at the most', () => {
    const size = (settings: object) => expectedSize(plan(settings).audio[0] as PlannedAudio);
    expect(size({ kind: 'ddp' })).toEqual({ bytes: 22 * 75 * 2352, how: 'exactly' });
    // Track 1 with the gap: 7 s.
    expect(size({ kind: 'tracks', format: 'flac', bits: 24 })).toEqual({
      bytes: 7 * 44_100 * 6,
      how: 'at most',
    });
    expect(size({ kind: 'tracks', format: 'mp3' })).toEqual({ bytes: 7 * 40_000, how: 'about' });
  });
  it('points out a file in which nothing sounds', () => {
    const hole = { ...nineTides(), endPause: s(30) };
    const silent = (from: number): boolean | undefined =>
      plan({ kind: 'continuous', from }, hole).audio[0]?.silent;
    expect(silent(0)).toBe(false);
    expect(silent(25)).toBe(true);
  });
});

describe('tracks that go through bit for bit', () => {
  it('have the rate and the words, and nothing is done to them', () => {
    expect(plan({ kind: 'ddp' }).untouched).toEqual([1, 3]);
    expect(plan({ kind: 'tracks', format: 'flac', bits: 24 }).untouched).toEqual([1, 2, 3]);
    expect(plan({ kind: 'tracks', format: 'flac', bits: 16 }).untouched).toEqual([1, 3]);
    expect(plan({ kind: 'tracks', format: 'wav', bits: 'float' }).untouched).toEqual([1, 2, 3]);
    expect(plan({ kind: 'tracks', format: 'mp3' }).untouched).toEqual([]);
    expect(plan({ kind: 'cue' }, withSong(nineTides(), 0, { gainDb: 1 })).untouched).toEqual([3]);
  });
});

describe('the loudness of a file over time', () => {
  const envelope = (rate: number, shift: number): Float64Array => {
    const made = new Envelope(rate);
    const length = Math.round(2.5 * rate);
    const left = Float64Array.from({ length }, (_, n) => {
      const t = n / rate - shift;
      return t < 0 ? 0 : Math.exp(-6 * (t % 0.61)) * Math.sin(900 * t);
    });
    // In uneven blocks.
    for (let at = 0; at < length; at += 777)
      made.push({ left: left.subarray(at, at + 777), right: left.subarray(at, at + 777) });
    return made.done();
  };
  it('has a figure for each CD frame at any rate', () => {
    expect(envelope(44_100, 0)).toHaveLength(188);
    expect(envelope(48_000, 0)).toHaveLength(188);
    expect(envelope(32_000, 0)).toHaveLength(188);
  });
  it('tells a file in its place from one that is late, also at another rate', () => {
    expect(compareEnvelopes(envelope(48_000, 0), envelope(44_100, 0)).shift).toBe(0);
    expect(compareEnvelopes(envelope(48_000, 0), envelope(44_100, 0)).likeness).toBeGreaterThan(0.999);
    // 4 frames: 53.3 ms late.
    expect(compareEnvelopes(envelope(44_100, 4 / 75), envelope(44_100, 0)).shift).toBe(4);
    const silence = new Float64Array(10);
    expect(compareEnvelopes(silence, silence)).toEqual({ likeness: 1, shift: 0 });
    expect(compareEnvelopes(silence, envelope(44_100, 0)).likeness).toBe(0);
  });
});
