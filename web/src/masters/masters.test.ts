import { Silhouette, type MasterMeasurement } from '@oiseau/audio/measure';
import { layOutAlbum } from '@oiseau/album/layout';
import { secondsToTicks } from '@oiseau/audio/time';
import { album } from '@oiseau/album/testing';
import { describe, expect, it } from 'vitest';
import type { MasterRecord } from '@oiseau/api';
import { applyTrims, hasNews, trimRows } from '../trim/trim-rows.js';
import { levelHeight } from './edge-drawing.js';
import { replacementRows } from './replacement.js';
import { spectrumRows } from './spectrum-rows.js';
import { versionsOf } from './versions.js';
import { formWords, wordWords } from './words.js';

const record = (change: Partial<MasterRecord>, measured: Partial<MasterMeasurement> = {}): MasterRecord => ({
  sha256: 'a',
  name: 'a.wav',
  bytes: 1000,
  info: {
    container: 'RIFF',
    rate: 48_000,
    channels: 2,
    format: 'int24',
    order: 'little',
    validBits: 24,
    length: 480_000,
    dataOffset: 44,
  },
  coding: null,
  embedded: { fields: {}, cues: [], cover: null },
  measurement: {
    integratedLufs: -14,
    truePeakDbtp: -1,
    samplePeakDbfs: -1.2,
    clippedRuns: 0,
    thirdOctavesDb: [],
    ...measured,
  } as MasterMeasurement,
  addedAt: '2026-11-01T10:00:00.000Z',
  replaces: null,
  awaits: false,
  damaged: false,
  ...change,
});

describe('versions of a master', () => {
  it('are numbered along their chain, whatever the order of the list', () => {
    const masters = [
      { sha256: 'c', replaces: 'b' },
      { sha256: 'x', replaces: null },
      { sha256: 'a', replaces: null },
      { sha256: 'b', replaces: 'a' },
    ];
    const versions = versionsOf(masters);
    expect(['a', 'b', 'c'].map((sha256) => versions.get(sha256))).toEqual([
      { number: 1, of: 3, replacedBy: 'b' },
      { number: 2, of: 3, replacedBy: 'c' },
      { number: 3, of: 3, replacedBy: null },
    ]);
    expect(versions.get('x')).toEqual({ number: 1, of: 1, replacedBy: null });
  });
  it('begin where the album has them', () => {
    expect(versionsOf([{ sha256: 'b', replaces: 'gone' }]).get('b')).toEqual({
      number: 1,
      of: 1,
      replacedBy: null,
    });
  });
});

describe('a master’s form', () => {
  it('is said in words', () => {
    expect([formWords(record({})), wordWords(record({}))]).toEqual(['WAV', '24 bit']);
    const mp3 = record({ coding: { codec: 'mp3', lossy: true, bitrate: 256_000 } });
    expect([formWords(mp3), wordWords(mp3)]).toEqual(['MP3 256 kbit/s', '–']);
    const flac = record({ coding: { codec: 'flac', lossy: false, bitrate: 900_000 } });
    expect([formWords(flac), wordWords(flac)]).toEqual(['FLAC', '24 bit']);
  });
});

describe('a newer version', () => {
  const rows = (newer: MasterRecord): Record<string, string | null> =>
    Object.fromEntries(replacementRows(record({}), newer).map(({ name, difference }) => [name, difference]));

  it('shows what differs, and nothing else', () => {
    const { info } = record({});
    const newer = record(
      {
        info: { ...info, rate: 96_000, length: 864_000 },
        coding: { codec: 'flac', lossy: false, bitrate: null },
      },
      { integratedLufs: -12.5, truePeakDbtp: -1.04, clippedRuns: 3 },
    );
    expect(rows(newer)).toEqual({
      Length: '0:01.000 shorter',
      Loudness: '1.5 dB louder',
      'True peak': null,
      'Clipped runs': 'different',
      'Sample rate': 'different',
      'Bit depth': null,
      Format: 'different',
    });
  });
  it('may be silent', () => {
    expect(rows(record({}, { integratedLufs: null })).Loudness).toBe('one of them is silent');
  });
});

describe('a spectrum against others', () => {
  it('is laid at the same loudness', () => {
    const own = record({}, { integratedLufs: -10, thirdOctavesDb: [-30, null] });
    const quiet = record({}, { integratedLufs: -20, thirdOctavesDb: [-40, -50] });
    const bright = record({}, { integratedLufs: -10, thirdOctavesDb: [-36, -35] });
    const silent = record({}, { integratedLufs: null, thirdOctavesDb: [-1, -1] });
    expect(spectrumRows(own, [quiet, bright, silent]).slice(0, 2)).toEqual([
      { hz: 25, own: -20, others: [-26, -20] },
      { hz: 31.5, own: null, others: [-30, -25] },
    ]);
    expect(spectrumRows(own, [])[0]?.others).toBeNull();
  });
});

describe('the level scale of heads and tails', () => {
  it('is in decibels from −96 dBFS up', () => {
    expect([levelHeight(1), levelHeight(0), levelHeight(1e-6), levelHeight(2)]).toEqual([1, 0, 0, 1]);
    expect(levelHeight(10 ** (-48 / 20))).toBeCloseTo(0.5, 12);
  });
});

describe('heads and tails', () => {
  const s = secondsToTicks;
  const outline = (from: number, to: number): Silhouette =>
    new Silhouette(
      Uint16Array.from({ length: 10 * 75 * 2 }, (_, i) => (i >= from * 150 && i < to * 150 ? 20_000 : 0)),
    );
  const subject = album({ master: 'a' }, { master: 'b' }, { master: 'unknown' });
  const facts = new Map(['a', 'b', 'unknown'].map((key) => [key, { rate: 44_100, length: 441_000 }]));
  const settings = { thresholdDb: -60, headMargin: s(0.2), tailMargin: s(1) };
  const rows = trimRows(
    layOutAlbum(subject, facts)[0],
    new Map([
      ['a', outline(2, 6)],
      ['b', outline(0, 10)],
    ]),
    settings,
  );

  it('are told for every track that is measured', () => {
    expect(rows.map(({ id, headCut, tailCut }) => [id, headCut, tailCut])).toEqual([
      ['t1', s(1.8), s(3)],
      ['t2', 0, 0],
    ]);
    expect(rows.map(hasNews)).toEqual([true, false]);
  });
  it('change only the tracks that are taken', () => {
    expect(applyTrims(subject, rows.slice(0, 1)).songs.map(({ region }) => [region.in, region.out])).toEqual([
      [s(1.8), s(7)],
      [0, null],
      [0, null],
    ]);
  });
});
