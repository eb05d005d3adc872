import { describe, expect, it } from 'vitest';
import { album } from '../testing.js';
import { trackTags } from './tag-set.js';

const codes = { isrc: 'ZZOIS2600002', upc: '2012345678903' };

describe('tags of a track', () => {
  it('say what the album says where the track says nothing, but for its title', () => {
    const subject = {
      ...album({ title: 'Lamp Lit' }, { title: '', composer: 'Ada Marram', lyricist: 'Ivo Sands' }),
      composer: 'The Lamps',
      releaseDate: '2026-11-09',
      label: 'Low Light',
      comment: 'Recorded at low tide',
    };
    expect(trackTags(subject, 1, codes)).toEqual({
      ARTIST: 'Marram Lamps',
      ALBUM: 'Nine Tides',
      ALBUMARTIST: 'Marram Lamps',
      TRACKNUMBER: '2',
      TRACKTOTAL: '2',
      DISCNUMBER: '1',
      DISCTOTAL: '1',
      DATE: '2026-11-09',
      COMPOSER: 'Ada Marram',
      LYRICIST: 'Ivo Sands',
      ISRC: 'ZZOIS2600002',
      BARCODE: '2012345678903',
      LABEL: 'Low Light',
      LANGUAGE: 'en',
      COMMENT: 'Recorded at low tide',
    });
    expect(trackTags(subject, 0, { isrc: '', upc: '' })).toMatchObject({
      TITLE: 'Lamp Lit',
      COMPOSER: 'The Lamps',
    });
    expect(() => trackTags(subject, 2, codes)).toThrow('The album has no track 3.');
  });

  it('may be a person’s own, the track’s before the album’s; an empty one takes a tag out', () => {
    const subject = {
      ...album({ tags: { MOOD: 'calm', ALBUM: '' } }),
      tags: { MOOD: 'stormy', PLACE: 'lighthouse', COMMENT: 'mine' },
    };
    const tags = trackTags(subject, 0, codes);
    expect([tags.MOOD, tags.PLACE, tags.COMMENT]).toEqual(['calm', 'lighthouse', 'mine']);
    expect(tags).not.toHaveProperty('ALBUM');
  });
});
