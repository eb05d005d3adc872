import { expect, it } from 'vitest';
import { album } from '@oiseau/album/testing';
import { deliverableSchema, newEdition, type Album, type Edition } from '@oiseau/album/model';
import { NO_TREATMENT } from '@oiseau/audio/stages';
import { secondsToTicks } from '@oiseau/audio/time';
import { editionFindings } from './edition-rules.js';

const s = secondsToTicks;
const UPC = '2012345678903';
const base: Album = {
  ...album(
    { title: 'A', isrc: 'ZZOIS2600001' },
    { title: 'B', isrc: 'ZZOIS2600002' },
    { title: 'C', gapBefore: s(-1), isrc: 'ZZOIS2600003' },
  ),
  deliverables: [],
};
const lp = (change: Partial<Edition> = {}): Edition => ({ ...newEdition('LP'), ...change });
const codes = (whole: Album, edition: Edition): string[] =>
  editionFindings(whole, edition).map((finding) =>
    'song' in finding ? `${finding.code} ${finding.song ?? ''}` : finding.code,
  );

it('a new pair of neighbours is a hint until its gap is set; a lost overlap is a warning instead', () => {
  expect(codes(base, lp())).toEqual([]);
  expect(codes(base, lp({ order: ['t1', 't3', 't2'] }))).toEqual([
    ...['edition-overlap-lost t3', 'edition-not-heard t2'],
  ]);
  const heard = { t3: { gapBefore: s(1) }, t2: { gapBefore: s(2) } };
  expect(codes(base, lp({ order: ['t1', 't3', 't2'], tracks: heard }))).toEqual([]);
});

it('two editions that go out have two codes', () => {
  const files = (edition: string) =>
    deliverableSchema.parse({ name: edition, kind: 'tracks', format: 'flac', bits: 24, edition });
  const both = (own: Partial<Edition>, ...released: string[]): Album => ({
    ...{ ...base, upc: UPC, editions: [newEdition('CD'), lp(own)] },
    deliverables: released.map(files),
  });
  const found = (own: Partial<Edition>, ...released: string[]): string[] =>
    codes(both(own, ...released), lp(own));
  expect(found({}, 'CD', 'LP')).toEqual(['edition-upc-same']);
  // Nothing is made of one of them, or it is only a draft, or its code is another.
  expect(found({}, 'CD')).toEqual([]);
  expect(found({ draft: true }, 'CD', 'LP')).toEqual([]);
  expect(found({ upc: '2026110900021' }, 'CD', 'LP')).toEqual([]);
  expect(found({ upc: UPC }, 'CD')).toEqual(['edition-upc-same']);
});

it('another recording may need an ISRC of its own: an end moved by more than ten seconds, or another treatment', () => {
  const of = (own: Edition['tracks'][string]) => codes(base, lp({ tracks: { t1: own } }));
  expect(of({ in: s(10) })).toEqual([]);
  expect(of({ in: s(10.1) })).toEqual(['edition-own-isrc t1']);
  expect(of({ out: s(3) })).toEqual(['edition-own-isrc t1']);
  expect(of({ out: null })).toEqual([]);
  expect(of({ in: s(20), isrc: 'ZZOIS2600009' })).toEqual([]);
  expect(of({ gainDb: -6, gapBefore: s(9) })).toEqual([]);
  expect(of({ sound: { limiter: null } })).toEqual([]);
  expect(of({ sound: { equaliser: NO_TREATMENT.equaliser } })).toEqual(['edition-own-isrc t1']);
});
