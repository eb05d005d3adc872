import { english } from '@oiseau/messages';
import { describe, expect, it } from 'vitest';
import { type Album, deliverableSchema } from '@oiseau/album/model';
import { layOutAlbum } from '@oiseau/album/layout';
import type { MasterMeasurement } from '@oiseau/audio/measure';
import type { PcmInfo } from '@oiseau/audio/pcm';
import { NO_ALBUM_TREATMENT, NO_TREATMENT } from '@oiseau/audio/stages';
import { album, withSong, type SongChange } from '@oiseau/album/testing';
import { secondsToTicks, ticks } from '@oiseau/audio/time';
import { checkAlbum } from './check.js';
import type { CheckCode } from './finding.js';
import type { DoubtSubject } from './master-doubts.js';
import { wordFinding } from './words.js';

const s = secondsToTicks;
const RATE = 44_100;
const info = {
  container: 'wav',
  format: 'int24',
  validBits: 24,
  channels: 2,
  rate: RATE,
  length: 60 * RATE,
} as unknown as PcmInfo;
const edge = (levelDb: -60 | -72 | -90, start: number, end: number) => ({
  levelDb,
  start: start * RATE,
  end: end * RATE,
});
/** 60 s whose sound stands from 0.5 to 55 s and has died away at 57 s. */
const fine = {
  integratedLufs: -16,
  truePeakDbtp: -1.5,
  samplePeakDbfs: -2,
  clippedRuns: 0,
  clipped: [],
  dcLeft: 0,
  dcRight: 0,
  correlation: 0.6,
  bitsUsed: 24,
  ditherTrace: 'no',
  edges: [edge(-60, 0.5, 55), edge(-72, 0.4, 57), edge(-90, 0.3, 58)],
} as unknown as MasterMeasurement;

/** Codes found in an album of one song, or of those given, whose first master was measured so. */
function codes(
  measured: Partial<MasterMeasurement>,
  change: Partial<DoubtSubject> & { readonly rate?: number } = {},
  of: Album = album({ master: 'a' }),
): CheckCode[] {
  const { rate = RATE, ...detail } = change;
  const first = { info: { ...info, rate, length: 60 * rate }, coding: null, ...detail };
  const details = new Map<string, DoubtSubject>([
    ['a', { ...first, measurement: { ...fine, ...measured } }],
    ['b', { info, coding: null, measurement: fine }],
  ]);
  const masters = new Map([...details].map(([id, { info: facts }]) => [id, facts]));
  const found = checkAlbum({ album: of, masters, details, parts: layOutAlbum(of, masters) });
  for (const finding of found) expect(english(wordFinding(finding))).toMatch(/^.{10,}[.”]$/s);
  return found.map(({ code }) => code);
}
const three = (change: SongChange): Album =>
  album({ master: 'b' }, { master: 'a', ...change }, { master: 'b' });
const fade = { length: s(0.1), shape: 'linear' } as const;

/** A hidden song of master “a” before two of master “b”. */
const withHidden = (change: SongChange): Album =>
  album({ numbered: false, master: 'a', ...change }, { master: 'b' }, { master: 'b' });

describe('checks of peaks before a coding with loss', () => {
  const lossy = {
    ...three({}),
    deliverables: [deliverableSchema.parse({ name: 'r', kind: 'tracks', format: 'mp3' })],
  };
  it('ask for room where there is such a deliverable, gains counted in', () => {
    expect(codes({ truePeakDbtp: -0.9 }, {}, lossy)).toEqual(expect.arrayContaining(['lossy-peak']));
    expect(codes({ truePeakDbtp: -1 }, {}, lossy)).not.toContain('lossy-peak');
    const lifted = [0, 1, 2].reduce((of, place) => withSong(of, place, { gainDb: 0.6 }), lossy as Album);
    // −1.5 + 0.6 = −0.9 dBTP on each of the three.
    expect(codes({}, {}, lifted).filter((code) => code === 'lossy-peak')).toHaveLength(3);
  });
  it('are silent where every deliverable is without loss', () => {
    expect(codes({ truePeakDbtp: -0.1 }, {}, three({}))).not.toContain('lossy-peak');
  });
});

describe('checks of what Masters suspects', () => {
  const store = {
    ...three({}),
    deliverables: [deliverableSchema.parse({ name: 'store', kind: 'package' })],
  };
  // 45 dB within 400 Hz at 16 kHz: what an encoder at 128 kbit/s leaves (docs/rules.md 12.3).
  const upperEnd = {
    ...{ bandHz: 100, bandsDb: [], mirror: null, at: 44_100 },
    edge: { hz: 16_000, dropDb: 45, aboveDb: 2 },
  };
  it('speak where a store would refuse a package because of it, and nowhere else', () => {
    expect(codes({ upperEnd }, {}, store)).toContain('store-may-refuse');
    expect(codes({ upperEnd }, {}, three({}))).not.toContain('store-may-refuse');
    expect(codes({}, {}, store)).not.toContain('store-may-refuse');
  });
});

describe('checks of a hidden song', () => {
  it('find what they find of a track', () => {
    const masters = new Map([
      ['a', info],
      ['b', info],
    ]);
    const found = (of: Album): string[] =>
      checkAlbum({ album: of, masters, parts: layOutAlbum(of, masters) }).flatMap((finding) =>
        'song' in finding && finding.song !== null ? [`${finding.code} ${finding.song}`] : [],
      );
    expect(found(withHidden({}))).toEqual([]);
    expect(found(withHidden({ out: s(61) }))).toContain('region-outside-master t1');
    expect(found(withHidden({ out: s(0) }))).toContain('region-empty t1');
    // Track 1 begins inside it and ends before it does.
    const swallowed = withSong(withHidden({}), 1, { gapBefore: s(-50), out: s(20) });
    expect(found(swallowed)).toContain('overlap-over-two t2');
    // Its words are looked at like any other’s.
    expect(found(withHidden({ title: ' ' }))).toContain('title-empty t1');
    expect(found(withHidden({ composer: 'Ada  Marram' }))).toContain('stray-blanks t1');
  });

  it('ask for two seconds before it, not before track 1', () => {
    expect(codes({}, {}, withHidden({ gapBefore: s(1) }))).toContain('first-pause-short');
    expect(codes({}, {}, withHidden({ gapBefore: s(2) }))).not.toContain('first-pause-short');
  });

  it('look at what was measured of it', () => {
    expect(codes({ correlation: -0.5 }, {}, withHidden({}))).toContain('channels-inverted');
    expect(codes({ bitsUsed: 16, ditherTrace: 'yes' }, {}, withHidden({ gainDb: 1 }))).toContain(
      'dithered-again',
    );
  });
});

describe('checks of what was measured', () => {
  it('do not count the older version of a master as left over', () => {
    expect(codes({})).toContain('masters-unused');
    expect(codes({}, { replaces: 'b' } as Partial<DoubtSubject>)).not.toContain('masters-unused');
  });

  it('tell no figure of a song whose sound is treated: nobody has measured what is heard', () => {
    const loud = album({ master: 'a', gainDb: 2.1 });
    const sound = { ...NO_ALBUM_TREATMENT, limiter: { drive: 0, ceiling: -1, release: 80 } };
    const treated = withSong(loud, 0, { sound: { ...NO_TREATMENT, ...sound } } as SongChange);
    expect(codes({}, {}, loud)).toContain('over-full-scale');
    expect(codes({}, {}, treated)).not.toContain('over-full-scale');
    expect(codes({}, {}, { ...loud, sound })).not.toContain('over-full-scale');
  });

  it('find nothing in masters that are fine', () => {
    expect(codes({}, {}, three({}))).toEqual(['upc-missing', 'isrc-all-missing']);
  });

  it.each<[CheckCode, CheckCode[], CheckCode[]]>([
    [
      'clipped',
      codes({ clippedRuns: 1, clipped: [{ at: 30 * RATE, length: 5 }] as never }),
      // The clipped place is trimmed away.
      codes(
        { clippedRuns: 1, clipped: [{ at: 30 * RATE, length: 5 }] as never },
        {},
        album({ master: 'a', out: s(20), fadeOut: fade }),
      ),
    ],
    [
      'over-full-scale',
      codes({}, {}, album({ master: 'a', gainDb: 2.1 })),
      codes({}, {}, album({ master: 'a', gainDb: 2 })),
    ],
    [
      'lossy-master',
      codes({}, { coding: { codec: 'mp3', lossy: true } }),
      codes({}, { coding: { codec: 'flac', lossy: false } }),
    ],
    ['channels-inverted', codes({ correlation: -0.5 }), codes({ correlation: -0.2 })],
    ['one-sided', codes({ correlation: null }), codes({})],
    // 16-bit words with dither, louder by 1 dB; untouched they are copied as they are.
    [
      'dithered-again',
      codes({ bitsUsed: 16, ditherTrace: 'yes' }, {}, album({ master: 'a', gainDb: -1 })),
      codes({ bitsUsed: 16, ditherTrace: 'yes' }),
    ],
    [
      'dithered-again',
      codes({ bitsUsed: 16, ditherTrace: 'yes' }, { rate: 48_000 }),
      codes({ bitsUsed: 16, ditherTrace: 'no' }, { rate: 48_000 }),
    ],
    [
      'dithered-again',
      codes({ bitsUsed: 16, ditherTrace: 'yes' }, {}, three({ gapBefore: s(-1) })),
      codes({ bitsUsed: 16, ditherTrace: 'yes' }, {}, three({})),
    ],
    [
      'cut-off',
      codes({}, {}, album({ master: 'a', out: s(40) })),
      codes({}, {}, album({ master: 'a', out: s(40), fadeOut: fade })),
    ],
    [
      'cut-off',
      codes({}, {}, album({ master: 'a', in: s(3) })),
      codes({}, {}, album({ master: 'a', in: s(0.5) })),
    ],
    // Two tracks of one recording that run into each other are not cut.
    [
      'cut-off',
      codes({}, {}, album({ master: 'a', out: s(40) }, { master: 'a', in: s(41), gapBefore: ticks(0) })),
      codes({}, {}, album({ master: 'a', out: s(40) }, { master: 'a', in: s(40), gapBefore: ticks(0) })),
    ],
    // Sound from 3.6 s, and after 57 s nothing.
    [
      'long-silence',
      codes({ edges: [edge(-60, 3.6, 55), edge(-72, 3.5, 57)] }),
      codes({}, {}, album({ master: 'a' })),
    ],
    [
      'long-silence',
      codes({ edges: [edge(-60, 0.5, 50), edge(-72, 0.5, 53)] }),
      codes({ edges: [edge(-60, 0.5, 50), edge(-72, 0.5, 55)] }),
    ],
    // Its neighbours are at −16 LUFS.
    [
      'loudness-apart',
      codes({ integratedLufs: -11.5 }, {}, three({})),
      codes({ integratedLufs: -13 }, {}, three({})),
    ],
    [
      'loudness-apart',
      codes({ integratedLufs: -21 }, {}, three({})),
      codes({ integratedLufs: -21 }, {}, three({ gainDb: 3 })),
    ],
    ['rates-differ', codes({}, { rate: 96_000 }, three({})), codes({}, {}, three({}))],
    ['masters-unused', codes({}), codes({}, {}, three({}))],
  ])('%s is found where it is, and only there', (code, broken, right) => {
    expect(broken).toContain(code);
    expect(right).not.toContain(code);
  });
});
