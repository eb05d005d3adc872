import { english } from '@oiseau/messages';
import { describe, expect, it } from 'vitest';
import { layOutAlbum } from '@oiseau/album/layout';
import { deliverableSchema } from '@oiseau/album/model';
import { album } from '@oiseau/album/testing';
import { checkAlbum } from './check.js';
import type { CoverFacts, Finding } from './finding.js';
import { wordFinding } from './words.js';

const masters = new Map([['ab'.repeat(32), { rate: 44_100, length: 60 * 44_100 }]]);
const one = { ...album({ isrc: 'ZZOIS2600001' }, { isrc: 'ZZOIS2600002' }), upc: '2012345678903' };
const found = (subject: typeof one, cover: CoverFacts | null): Finding[] =>
  checkAlbum({ album: subject, masters, cover, parts: layOutAlbum(subject, masters) });
const good: CoverFacts = {
  width: 3000,
  height: 3000,
  format: 'jpeg',
  space: 'srgb',
  channels: 3,
  hasAlpha: false,
  bytes: 2_000_000,
};

describe('checks of the cover', () => {
  it('find nothing in a good one, nor where it is not known', () => {
    expect(found(one, good)).toEqual([]);
    expect(found(one, null)).toEqual([]);
  });
  it.each([
    ['a little small', { width: 2000, height: 2000 }, 'hint', /2000 × 2000 pixels; stores ask for 3000/],
    ['too small', { width: 600, height: 600 }, 'warning', /600 × 600/],
    ['not square', { height: 3100 }, 'warning', /not square: 3000 × 3100/],
    ['printed colours', { space: 'cmyk' }, 'warning', /CMYK; .*RGB/],
    ['see-through', { hasAlpha: true }, 'hint', /white/],
    ['too heavy', { bytes: 11 * 2 ** 20 }, 'warning', /11\.0 MB/],
  ] as const)('tell of one that is %s', (_, change, severity, words) => {
    const [finding, ...more] = found(one, { ...good, ...change });
    expect(more).toEqual([]);
    expect(finding?.severity).toBe(severity);
    expect(finding && english(wordFinding(finding))).toMatch(words);
  });
});

describe('checks of a section', () => {
  const section = (from: unknown, to: unknown) => ({
    ...one,
    deliverables: [deliverableSchema.parse({ name: 'part', kind: 'continuous', from, to })],
  });
  it('find an end before its start, and a mark that is not there', () => {
    expect(found(section('1', '2'), null)).toEqual([]);
    expect(found(section(null, null), null)).toEqual([]);
    for (const [from, to] of [
      ['2', '1'],
      ['2', '2'],
      ['7', null],
      [30, 20],
    ])
      expect(found(section(from, to), null)).toMatchObject([
        { code: 'section-empty', severity: 'error', deliverable: 'part' },
      ]);
  });
});
