import { describe, expect, it } from 'vitest';
import { album } from '@oiseau/album/testing';
import { type Album, partsOf } from '@oiseau/album/model';
import type { TagSet } from '@oiseau/codings';
import { trackTags } from './tag-set.js';

const codes = { isrc: 'ZZOIS2600002', upc: '2012345678903' };

/** The tags of a track of the first part, by its place from 0. */
function tagsOf(of: Album, place: number, given = codes): TagSet {
  const [part] = partsOf(of);
  const track = part?.tracks[place];
  if (!part || !track) throw new Error('no such track');
  return trackTags(of, part, track, given);
}

describe('tags of a track', () => {
  it('say what the album says where the track says nothing, but for its title', () => {
    const subject = {
      ...album({ title: 'Lamp Lit' }, { title: '', composer: 'Ada Marram', lyricist: 'Ivo Sands' }),
      composer: 'The Lamps',
      releaseDate: '2026-11-09',
      label: 'Low Light',
      comment: 'Recorded at low tide',
    };
    expect(tagsOf(subject, 1)).toEqual({
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
    expect(tagsOf(subject, 0, { isrc: '', upc: '' })).toMatchObject({
      TITLE: 'Lamp Lit',
      COMPOSER: 'The Lamps',
    });
  });

  it('may be a person’s own, the track’s before the album’s; an empty one takes a tag out', () => {
    const subject = {
      ...album({ tags: { MOOD: 'calm', ALBUM: '' } }),
      tags: { MOOD: 'stormy', PLACE: 'lighthouse', COMMENT: 'mine' },
    };
    const tags = tagsOf(subject, 0);
    expect([tags.MOOD, tags.PLACE, tags.COMMENT]).toEqual(['calm', 'lighthouse', 'mine']);
    expect(tags).not.toHaveProperty('ALBUM');
  });
});
