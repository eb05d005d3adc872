import { describe, expect, it } from 'vitest';
import { Silhouette } from '@oiseau/audio/measure';
import { newSong } from '../model/song.js';
import { ALIKE, nameOfRecording, offerVersions, outlineLikeness, UNALIKE } from './version-offers.js';

describe('the name of a recording', () => {
  it.each([
    ['03 Glass Ledger_v2 FINAL (1).wav', 'Glass Ledger.wav'],
    ['Glass Ledger 2026-11-25.wav', 'glass_ledger.flac'],
    ['Glass Ledger (24-96).wav', 'Glass Ledger master.wav'],
    ['Glass Ledger 96k 24bit mastered.wav', 'Glass Ledger rev3.wav'],
    ['Final.wav', '07 Final.wav'],
    ['Nine Tides 2.wav', 'Nine Tides.wav'],
  ])('is one for “%s” and “%s”', (a, b) => {
    expect(nameOfRecording(a)).toBe(nameOfRecording(b));
    expect(nameOfRecording(a)).not.toBe('');
  });

  it.each([
    ['Glass Ledger (instrumental).wav', 'Glass Ledger.wav'],
    ['Glass Ledger.wav', 'Glass Ledgers.wav'],
    ['Salt.wav', 'Salt Ledger.wav'],
  ])('is another for “%s” and “%s”', (a, b) => expect(nameOfRecording(a)).not.toBe(nameOfRecording(b)));
});

const sha = (letter: string): string => letter.repeat(64);
const file = (letter: string, name: string, seconds: number) => ({ sha256: sha(letter), name, seconds });
const album = { songs: ['a', 'b', 'c'].map((letter) => newSong(letter, sha(letter), letter)) };
const here = [file('a', '01 Lamp.wav', 60), file('b', '02 Oil.wav', 90), file('c', '03 Salt.wav', 90.02)];

describe('newer versions of masters', () => {
  it('are offered by name, whatever their length, and else by a length that one master alone has', () => {
    const came = [
      file('d', 'Oil_v2.wav', 97),
      file('e', 'bounce 7.wav', 60.01),
      file('f', 'Slack Water.wav', 41),
    ];
    expect(offerVersions(album, came, [...here, ...came])).toEqual([
      { newer: sha('d'), older: sha('b'), byName: true },
      { newer: sha('e'), older: sha('a'), byName: false },
    ]);
  });

  it('are none of two that fit, of what no song plays, or of another order of length', () => {
    const came = [file('d', 'bounce.wav', 90.01), file('e', 'Lamp v2.wav', 200), file('f', 'Idle.wav', 33)];
    const idle = file('9', 'Idle.wav', 33);
    expect(offerVersions(album, came, [...here, idle, ...came])).toEqual([]);
  });

  it('are offered once: of two for one master the first', () => {
    const came = [file('d', 'Lamp v2.wav', 60), file('e', 'Lamp v3.wav', 60)];
    expect(offerVersions(album, came, here).map(({ newer }) => newer)).toEqual([sha('d')]);
  });
});

/** An outline of 30 s with the given level at each moment, 0 to 1. */
const outline = (level: (seconds: number) => number): Silhouette =>
  new Silhouette(
    Uint16Array.from({ length: 2 * 30 * 75 }, (_, i) => Math.round(20_000 * level((i >> 1) / 75))),
  );
const verse = (t: number): number => 0.6 + 0.3 * Math.sin(t) + 0.2 * Math.sin(2.7 * t);
const other = (t: number): number => 0.6 + 0.3 * Math.sin(1.7 * t + 2) + 0.2 * Math.sin(0.6 * t);

describe('the likeness of outlines', () => {
  it('sees one recording in another level, a second later, and with a longer end', () => {
    expect(
      outlineLikeness(
        outline(verse),
        outline((t) => 0.5 * verse(t)),
      ),
    ).toBeGreaterThan(0.999);
    expect(
      outlineLikeness(
        outline(verse),
        outline((t) => (t < 1 ? 0 : verse(t - 1))),
      ),
    ).toBeGreaterThan(ALIKE);
  });

  it('tells another recording of the same length', () => {
    expect(outlineLikeness(outline(verse), outline(other))).toBeLessThan(UNALIKE);
  });

  it('says nothing of what does not move, or is short', () => {
    expect(
      outlineLikeness(
        outline(verse),
        outline(() => 0.3),
      ),
    ).toBeNull();
    expect(outlineLikeness(new Silhouette(new Uint16Array(150)), outline(verse))).toBeNull();
  });
});
