import { english } from '@oiseau/messages';
import { describe, expect, it } from 'vitest';
import { type Album, deliverableSchema } from '@oiseau/album/model';
import { layOutAlbum } from '@oiseau/album/layout';
import { album } from '@oiseau/album/testing';
import { checkAlbum, errorsFor } from './check.js';
import type { CoverFacts } from './finding.js';
import { wordFinding } from './words.js';

const masters = new Map([['a', { rate: 44_100, length: 60 * 44_100 }]]);
const cover: CoverFacts = {
  ...{ width: 3000, height: 3000, format: 'png', space: 'srgb', channels: 3, hasAlpha: false, bytes: 9 },
};
const whole: Album = {
  ...album({ master: 'a', title: 'Lamp', isrc: 'ZZOIS2600001' }),
  ...{ title: 'Nine Tides', performer: 'Marram Lamps', label: 'Low Light', upc: '2012345678903' },
  ...{ releaseDate: '2026-11-09', copyright: '2026 Low Light', phonogram: '2026 Low Light' },
  artwork: 'f'.repeat(64),
  deliverables: [deliverableSchema.parse({ name: 'shop', kind: 'package' })],
};

/** What a shop would refuse of an album with some of it changed. */
const lacks = (change: Partial<Album>, picture: CoverFacts | null = cover): string[] => {
  const changed = { ...whole, ...change };
  const subject = { album: changed, parts: layOutAlbum(changed, masters), masters, cover: picture };
  return checkAlbum(subject).flatMap((finding) => (finding.code === 'shop-refuses' ? [finding.lacks] : []));
};

describe('what a shop would refuse of a package', () => {
  it('is nothing where everything is there', () => expect(lacks({})).toEqual([]));

  it.each<[Partial<Album>, string]>([
    [{ title: ' ' }, 'title'],
    [{ performer: '' }, 'performer'],
    [{ label: '' }, 'label'],
    [{ upc: '2012345678904' }, 'upc'],
    [{ releaseDate: '2026' }, 'release-date'],
    [{ releaseDate: '2026-02-30' }, 'release-date'],
    [{ language: '' }, 'language'],
    [{ copyright: '' }, 'copyright'],
    [{ phonogram: '' }, 'phonogram'],
    [{ artwork: null }, 'cover'],
    [{ songs: album({ master: 'a', title: 'Lamp' }).songs }, 'isrc'],
  ])('is said: %o', (change, wanted) => expect(lacks(change)).toEqual([wanted]));

  it.each([
    { ...cover, width: 2999, height: 2999 },
    { ...cover, width: 3200 },
  ])('is a picture of $width × $height', (picture) => expect(lacks({}, picture)).toEqual(['cover-size']));

  it('is said of packages alone, and keeps nothing else from being rendered', () => {
    const deliverables = [...whole.deliverables, deliverableSchema.parse({ name: 'image', kind: 'cue' })];
    expect(lacks({ upc: '', deliverables: deliverables.slice(1) })).toEqual([]);
    const changed = { ...whole, upc: '', deliverables };
    const findings = checkAlbum({ album: changed, parts: layOutAlbum(changed, masters), masters, cover });
    expect(errorsFor(findings, ['image'])).toEqual([]);
    expect(errorsFor(findings, ['image', 'shop']).map((each) => english(wordFinding(each)))).toEqual([
      'Stores will refuse “shop”: the album has no valid UPC/EAN.',
    ]);
  });
});
