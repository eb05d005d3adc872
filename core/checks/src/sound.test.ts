import { english } from '@oiseau/messages';
import { describe, expect, it } from 'vitest';
import { nameOfSound, soundsOf, type ReductionFigures } from '@oiseau/album/measured';
import { type Album, deliverableSchema } from '@oiseau/album/model';
import { layOutAlbum } from '@oiseau/album/layout';
import { NO_ALBUM_TREATMENT, NO_TREATMENT, type AlbumTreatment, type Treatment } from '@oiseau/audio/stages';
import { album } from '@oiseau/album/testing';
import { secondsToTicks } from '@oiseau/audio/time';
import { checkAlbum } from './check.js';
import type { Finding } from './finding.js';
import { fixOf } from './fix.js';
import { wordFinding } from './words.js';

const masters = new Map([['m', { rate: 44_100, length: 60 * 44_100 }]]);
const LIMITER = { drive: 0, ceiling: -1, release: 80 };

/** An album of one song with a treatment. */
const song = (sound: Partial<Treatment>): Album =>
  album({
    master: 'm',
    in: secondsToTicks(10),
    out: secondsToTicks(40),
    sound: { ...NO_TREATMENT, ...sound },
  });
const whole = (sound: Partial<AlbumTreatment>): Album => ({
  ...album({ master: 'm' }, { master: 'm' }),
  sound: { ...NO_ALBUM_TREATMENT, ...sound },
});
const lossy = (of: Album): Album => ({
  ...of,
  deliverables: [deliverableSchema.parse({ name: 'shop', kind: 'tracks', format: 'mp3' })],
});

/** What is found of the sound, each worded. @param limiter what was measured of every limiter */
function found(of: Album, limiter: ReductionFigures | null = null): Finding[] {
  const parts = layOutAlbum(of, masters);
  const figures = { measurement: {}, songs: {}, compressor: null, limiter };
  const sounds = new Map(soundsOf(parts).map((sound) => [nameOfSound(sound), figures as never]));
  const all = checkAlbum({ album: of, masters, parts, ...(limiter ? { sounds } : {}) });
  for (const finding of all) expect(english(wordFinding(finding))).toMatch(/^.{10,}[.”]$/s);
  return all;
}
const codes = (...given: Parameters<typeof found>): string[] => found(...given).map(({ code }) => code);

describe('checks of what is done to the sound', () => {
  it('ask about a limiter that takes more than 6 dB, or works for more than a third of the time', () => {
    for (const of of [song({ limiter: LIMITER }), whole({ limiter: LIMITER })]) {
      expect(codes(of, { mostDb: 6.1, share: 0.1, times: 9 })).toContain('limiter-deep');
      expect(codes(of, { mostDb: 6, share: 0.34, times: 9 })).toContain('limiter-always');
      const fine = codes(of, { mostDb: 6, share: 0.33, times: 9 });
      expect(fine).not.toContain('limiter-deep');
      expect(fine).not.toContain('limiter-always');
      // Nothing is said before it is measured.
      expect(codes(of)).not.toContain('limiter-deep');
    }
  });

  it('ask about a lift of the lowest octave by more than 6 dB, at any moment', () => {
    const shelf = (db: number | { at: number; db: number }[]) =>
      song({ equaliser: [{ kind: 'low-shelf', hz: 200, db, q: 0.7 }] });
    expect(codes(shelf(6.5))).toContain('lowest-lifted');
    expect(codes(shelf(5.5))).not.toContain('lowest-lifted');
    expect(
      codes(
        shelf([
          { at: 12, db: 0 },
          { at: 20, db: 7 },
        ]),
      ),
    ).toContain('lowest-lifted');
    expect(codes(song({ equaliser: [{ kind: 'bell', hz: 1000, db: 12, q: 1 }] }))).not.toContain(
      'lowest-lifted',
    );
  });

  it('say that songs that nothing else is done to are not kept bit for bit on an album that is treated', () => {
    expect(found(whole({ limiter: LIMITER }))).toContainEqual(
      expect.objectContaining({ code: 'bits-lost', songs: 2 }),
    );
    expect(codes(whole({}))).not.toContain('bits-lost');
  });

  it('ask for a ceiling at −1 dBTP where something is coded with loss, and set it', () => {
    const high = lossy(whole({ limiter: { ...LIMITER, ceiling: -0.3 } }));
    const finding = found(high).find(({ code }) => code === 'ceiling-high');
    if (!finding) throw new Error('not found');
    const fixed = fixOf(finding, { album: high, masters, parts: layOutAlbum(high, masters) })?.change(high);
    expect(fixed?.sound.limiter?.ceiling).toBe(-1);
    expect(codes(fixed ?? high)).not.toContain('ceiling-high');
    expect(codes(whole({ limiter: { ...LIMITER, ceiling: -0.3 } }))).not.toContain('ceiling-high');
    // A song’s own limiter counts where the album has none after it.
    const own = lossy(song({ limiter: { ...LIMITER, ceiling: -0.5 } }));
    expect(codes(own)).toContain('ceiling-high');
    expect(codes({ ...own, sound: { ...NO_ALBUM_TREATMENT, limiter: LIMITER } })).not.toContain(
      'ceiling-high',
    );
  });

  it('count points of moving values where nothing is played', () => {
    const points = [9, 10, 40, 41].map((at) => ({ at, db: -1 + at / 100 }));
    expect(found(song({ ride: points }))).toContainEqual(
      expect.objectContaining({ code: 'points-outside', points: 2 }),
    );
    expect(codes(song({ ride: points.slice(1, 3) }))).not.toContain('points-outside');
  });
});
