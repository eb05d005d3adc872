import { english } from '@oiseau/messages';
import { describe, expect, it } from 'vitest';
import { type Album, deliverableSchema } from '@oiseau/album/model';
import { layOutAlbum } from '@oiseau/album/layout';
import { album, withSong, type SongChange } from '@oiseau/album/testing';
import { secondsToTicks, ticks, type Ticks } from '@oiseau/audio/time';
import { acceptedReason, acceptFinding, checkAlbum } from './check.js';
import { fixOf } from './fix.js';
import type { CheckCode } from './finding.js';
import { wordFinding } from './words.js';

const s = secondsToTicks;
/** Every master of these tests lasts 60 s. */
const masters = new Map([['ab'.repeat(32), { rate: 44_100, length: 60 * 44_100 }]]);
const subjectOf = (album: Album) => ({ album, masters, parts: layOutAlbum(album, masters) });
const check = (album: Album) => checkAlbum(subjectOf(album));
const codes = (subject: Album): CheckCode[] => check(subject).map(({ code }) => code);
const many = (count: number, change: SongChange = {}): Album =>
  album(...Array.from({ length: count }, () => change));

/** Two songs with 2 s between them, the start mark of the second some time before its audio. */
const marked = (markLead: Ticks): Album => album({}, { markLead });
const named = (pattern: string, ...titles: string[]): Album => ({
  ...album(...titles.map((title) => ({ title }))),
  deliverables: [deliverableSchema.parse({ name: 'files', kind: 'tracks', pattern })],
});

/** An album that nothing is wrong with. */
const right: Album = {
  ...album({ isrc: 'ZZ-OIS-26-00001' }, { isrc: 'ZZOIS2600002' }),
  upc: '2012345678903',
};
/** The right album with another first track, or other words of its own. */
const withTrack = (change: SongChange): Album => withSong(right, 0, change);

describe('checks', () => {
  it('find nothing in an album that is right', () => {
    expect(codes(right)).toEqual([]);
  });

  it.each<[CheckCode, Album, Album]>([
    ['no-tracks', album(), album({})],
    ['too-many-tracks', many(100, { out: s(10) }), many(99, { out: s(10) })],
    ['region-outside-master', album({ out: s(60.001) }), album({ out: s(60) })],
    ['region-empty', album({ in: s(30), out: s(30) }), album({ in: s(30), out: s(40) })],
    [
      'fades-too-long',
      album({
        out: s(10),
        fadeIn: { length: s(6), shape: 'linear' },
        fadeOut: { length: s(4.001), shape: 'linear' },
      }),
      album({
        out: s(10),
        fadeIn: { length: s(6), shape: 'linear' },
        fadeOut: { length: s(4), shape: 'linear' },
      }),
    ],
    [
      'overlap-over-two',
      album({ out: s(10) }, { out: s(5), gapBefore: s(-4) }, { out: s(10), gapBefore: s(-1.5) }),
      album({ out: s(10) }, { out: s(5), gapBefore: s(-4) }, { out: s(10), gapBefore: s(-1) }),
    ],
    ['first-pause-short', album({ gapBefore: s(1.99) }), album({ gapBefore: s(2) })],
    // From mark to pause: 3.98 s is 298.5 frames; 4 s is 300.
    ['track-short', album({ out: s(3.98) }, {}), album({ out: s(4) }, {})],
    ['index-outside-track', album({ indexes: [s(20), s(10)] }), album({ indexes: [s(10), s(20)] })],
    // 77 tracks of 60 + 2 s end at 4774 s; 78 at 4836 s, past 79:59:74 = 4799.99 s.
    ['disc-too-long', many(78), many(77)],
    ['isrc-malformed', album({ isrc: 'ZZOIS26' }), album({ isrc: '' })],
    [
      'isrc-double',
      album({ isrc: 'ZZOIS2600001' }, { isrc: 'zz-ois-26-00001' }),
      album({ isrc: 'ZZOIS2600001' }, {}),
    ],
    ['upc-malformed', { ...album({}), upc: '2012345678904' }, { ...album({}), upc: '2012345678903' }],
    ['title-empty', album({ title: ' ' }), album({ title: 'Ebb' })],
    ['album-title-empty', { ...album({}), title: '' }, album({})],
    ['upc-missing', { ...right, upc: ' ' }, right],
    ['isrc-missing', withTrack({ isrc: '' }), right],
    ['isrc-all-missing', album({}, {}), withTrack({ isrc: '' })],
    ['title-like-file', withTrack({ title: '01_lamp_lit.wav' }), withTrack({ title: '99 Lamps' })],
    ['title-like-file', withTrack({ title: '03 - Neap' }), withTrack({ title: 'Neap – Ebb' })],
    ['stray-blanks', withTrack({ composer: 'Ada  Marram' }), withTrack({ composer: 'Ada Marram' })],
    ['stray-blanks', { ...right, label: 'Fog ' }, { ...right, label: 'Fog' }],
    ['cd-text-unfit', withTrack({ title: 'Keeper’s Round' }), withTrack({ title: "Keeper's Round" })],
    ['cd-text-unfit', { ...right, cdTextCharset: 'ascii', performer: 'Ærø' }, { ...right, performer: 'Ærø' }],
    [
      'cd-text-unfit',
      withTrack({ title: 'Keeper’s Round' }),
      { ...withTrack({ title: 'Keeper’s Round' }), cdTextPlain: true },
    ],
    // A letter that nothing in the set is like gets onto no disc, asked for in plain letters or not.
    [
      'cd-text-lost',
      { ...withTrack({ title: '海 Ebb' }), cdTextPlain: true },
      { ...withTrack({ title: '海 Ebb' }), cdTextCharset: 'ms-jis' },
    ],
    ['cd-text-lost', withTrack({ title: 'Ebb 🌊' }), withTrack({ title: 'Ebb ½…' })],
    ['cd-text-lost', { ...right, genre: '演歌' }, { ...right, genre: 'Enka – old' }],
    // 3,043 bytes of messages are 254 packs; 3 of titles, 4 of performers, 4 of codes and 3 of sizes are too many.
    ['cd-text-too-long', withTrack({ message: 'x'.repeat(3040) }), withTrack({ message: 'x'.repeat(2500) })],
    ['mark-in-song-before', marked(s(2.5)), marked(s(2))],
    ['names-alike', named('{title}', 'Ebb', 'ebb'), named('{number} {title}', 'Ebb', 'ebb')],
  ])('%s is found where it is, and only there', (code, broken, right) => {
    expect(codes(broken)).toContain(code);
    expect(codes(right)).not.toContain(code);
    for (const finding of check(broken)) expect(english(wordFinding(finding))).toMatch(/^.{10,}[.?]$/s);
  });

  it('warn past 79:57 and forbid past 79:59:74', () => {
    const ending = (seconds: number): Album => ({ ...many(77), endPause: s(seconds - 77 * 62) });
    const found = (seconds: number) => check(ending(seconds)).filter(({ code }) => code === 'disc-too-long');
    expect(found(4797)).toEqual([]);
    expect(found(4797.5)).toMatchObject([{ severity: 'warning' }]);
    expect(found(4800)).toMatchObject([{ severity: 'error' }]);
  });

  it('keep a letter without a plain form from the disc that would say it, and from nothing else', () => {
    const lost = { ...withTrack({ title: '海' }), deliverables: [] };
    expect(check(lost).filter(({ code }) => code === 'cd-text-lost')).toMatchObject([
      { severity: 'warning' },
    ]);
    const deliverables = [
      deliverableSchema.parse({ name: 'plant', kind: 'ddp' }),
      deliverableSchema.parse({ name: 'files', kind: 'tracks' }),
    ];
    const found = check({ ...lost, deliverables }).filter(({ code }) => code === 'cd-text-lost');
    expect(found).toMatchObject([{ severity: 'error', deliverable: 'plant', chars: '海', song: 't1' }]);
    expect(found.map((each) => english(wordFinding(each)))).toEqual([
      'CD-Text has no substitute for 海 in the title (Western characters). Use other characters, or choose Japanese.',
    ]);
  });

  it('put errors first', () => {
    const found = check({ ...album({ title: '', gapBefore: ticks(0) }), title: '' });
    expect(found.map(({ severity }) => severity)).toEqual(['error', 'warning', 'warning', 'hint', 'hint']);
  });
});

describe('accepting', () => {
  const broken = withTrack({ title: '03 - Neap' });
  it('keeps the reason with the track, wherever it moves, and can be taken back', () => {
    const [finding] = check(broken);
    if (!finding) throw new Error('nothing found');
    const accepted = acceptFinding(broken, finding, 'Its real name.');
    expect(accepted.accepted).toEqual([{ code: 'title-like-file', song: 't1', reason: 'Its real name.' }]);
    const moved = { ...accepted, songs: [...accepted.songs].reverse() };
    const [again] = check(moved);
    expect(again && acceptedReason(subjectOf(moved), again)).toBe('Its real name.');
    expect(acceptFinding(accepted, finding, null).accepted).toEqual([]);
  });

  it('is not for errors', () => {
    const short = album({ gapBefore: s(1) });
    const [error] = check(short);
    if (!error) throw new Error('nothing found');
    const accepted = acceptFinding(short, error, 'It will do.');
    expect(acceptedReason(subjectOf(accepted), error)).toBeNull();
  });
});

describe('mending', () => {
  it.each<[CheckCode, Album]>([
    ['stray-blanks', withTrack({ performer: '  Marram   Lamps ' })],
    ['stray-blanks', { ...right, title: 'Nine  Tides' }],
    ['title-like-file', withTrack({ title: '01_lamp_lit.wav' })],
    ['cd-text-unfit', withTrack({ title: 'Keeper’s Round' })],
    ['mark-in-song-before', marked(s(2.5))],
    ['upc-malformed', { ...right, upc: '2012345678904' }],
    ['first-pause-short', album({ gapBefore: s(1) })],
  ])('%s is gone afterwards', (code, broken) => {
    const subject = subjectOf(broken);
    const finding = checkAlbum(subject).find((each) => each.code === code);
    const fix = finding && fixOf(finding, subject);
    expect(fix && english(fix.label)).toMatch(/\w/);
    expect(codes(fix?.change(broken) ?? broken)).not.toContain(code);
  });

  it('is nothing for what a person must decide', () => {
    const subject = subjectOf(album());
    expect(checkAlbum(subject).map((finding) => fixOf(finding, subject))).toEqual([null]);
  });
});

describe('checks of other recordings', () => {
  const other = 'cd'.repeat(32);
  const facts = new Map([...masters, [other, { rate: 44_100, length: 60 * 44_100 }]]);
  const withOne = (shift: Ticks = ticks(0), out: Ticks | null = null): Album =>
    withSong({ ...right, deliverables: [] }, 0, { out, alternates: { clean: { master: other, shift } } });
  const found = (
    subject: Album,
    more: Partial<Parameters<typeof checkAlbum>[0]> = {},
    length = 60 * 44_100,
  ) => {
    const known = new Map([...facts, [other, { rate: 44_100, length }]]);
    return checkAlbum({ album: subject, masters: known, parts: layOutAlbum(subject, known), ...more }).filter(
      ({ code }) => code.startsWith('alternate'),
    );
  };
  const lineUps = (samples: number) => ({
    lineUps: new Map([[`${'ab'.repeat(32)} ${other}`, { found: { samples, rate: 44_100, certainty: 40 } }]]),
  });

  it('name one that ends before the region, and no other', () => {
    expect(found(withOne())).toEqual([]);
    const [short] = found(withOne(), {}, 58 * 44_100);
    expect(short).toMatchObject({ code: 'alternate-short', severity: 'error', song: 't1', lacking: s(2) });
    expect(short && english(wordFinding(short))).toBe('“clean” ends 0:02.000 before the end of the track.');
    expect(found(withOne(ticks(0), s(58)), {}, 58 * 44_100)).toEqual([]);
  });

  it('tell how much one is later or earlier, and line it up', () => {
    expect(found(withOne(), lineUps(0))).toEqual([]);
    const [late] = found(withOne(), lineUps(441));
    expect(late && english(wordFinding(late))).toBe(
      '“clean” is 441 samples (10.00 ms) later than the master.',
    );
    const subject = subjectOf(right);
    const fixed = late && fixOf(late, subject)?.change(withOne());
    expect(fixed?.songs[0]?.alternates.clean?.shift).toBe(s(0.01));
    expect(fixed && found(fixed, lineUps(441))).toEqual([]);
    expect(found(withOne(s(0.01)), lineUps(440))).toMatchObject([{ samples: -1 }]);
  });

  it('name recordings that a deliverable asks for in vain', () => {
    const asking = (form: object): Album => ({
      ...withOne(),
      deliverables: [deliverableSchema.parse({ name: 'files', ...form })],
    });
    expect(found(asking({ kind: 'tracks', alternates: ['main', 'tv'] }))).toEqual([
      { code: 'alternate-unknown', severity: 'error', deliverable: 'files', alternate: 'tv' },
    ]);
    // The second track has none.
    const [missing] = found(asking({ kind: 'tracks', alternates: ['clean'] }));
    expect(missing && english(wordFinding(missing))).toBe(
      '1 of 2 tracks of “files” have no “clean”: no file is written for them.',
    );
    expect(found(asking({ kind: 'tracks', alternates: ['clean'], select: [1] }))).toEqual([]);
    expect(found(asking({ kind: 'tracks', alternates: ['clean'], select: [2] }))).toMatchObject([
      { code: 'alternate-unknown' },
    ]);
    expect(found(asking({ kind: 'continuous', alternate: 'clean' }))).toMatchObject([{ leftOut: false }]);
  });
});
