import { acceptFindings, type Finding } from '@oiseau/checks';
import { newAlbum } from '@oiseau/album/model';
import { describe, expect, it } from 'vitest';
import { acceptedTogether, groupFindings } from './finding-groups.js';

const subject = { album: newAlbum('Nine Tides'), parts: [] };
const peak = (song: string, deliverable: string): Finding => ({
  ...{ code: 'lossy-peak', severity: 'warning', song, deliverable, peakDbtp: 0 },
});
const MISSING: Finding = { code: 'upc-missing', severity: 'warning' };

describe('findings as they are shown', () => {
  it('are one where they say the same of the same place', () => {
    const groups = groupFindings(subject, [MISSING, peak('a', 'radio'), { ...MISSING }, peak('a', 'store')]);
    expect(groups.map(({ all }) => all.length)).toEqual([2, 1, 1]);
    expect(groups[0]).toMatchObject({
      place: 'The album',
      words: expect.stringContaining('no UPC') as string,
    });
  });

  it('of one kind can be accepted together, errors never', () => {
    const error: Finding = { code: 'title-empty', severity: 'error', song: 'a' };
    const groups = groupFindings(subject, [
      ...[peak('a', 'radio'), peak('b', 'radio'), peak('c', 'radio'), MISSING],
      ...[error, { ...error, song: 'b' }],
    ]);
    const kinds = acceptedTogether(groups);
    expect([...kinds.keys()]).toEqual(['lossy-peak']);
    const accepted = acceptFindings(subject.album, kinds.get('lossy-peak') ?? [], 'Meant so.').accepted;
    expect(accepted.map(({ code, song, reason }) => [code, song, reason])).toEqual(
      ['a', 'b', 'c'].map((song) => ['lossy-peak', song, 'Meant so.']),
    );
    expect(
      acceptFindings({ ...subject.album, accepted }, kinds.get('lossy-peak') ?? [], null).accepted,
    ).toEqual([]);
  });
});
