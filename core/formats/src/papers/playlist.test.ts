import { expect, it } from 'vitest';
import { readPlaylist, writePlaylist } from './playlist.js';

it('a playlist has a line of length and title before each path, and none that would be taken for a remark', () => {
  const entries = [
    { path: 'disc-1/01 Lamp.flac', seconds: 213.6, title: 'Marram Lamps - Lamp' },
    { path: '#2.flac', seconds: 61, title: 'two\nlines' },
  ];
  const text = writePlaylist(entries);
  expect(text).toBe(
    '#EXTM3U\n#EXTINF:214,Marram Lamps - Lamp\ndisc-1/01 Lamp.flac\n#EXTINF:61,two lines\n./#2.flac\n',
  );
  expect(readPlaylist(text).map(({ path }) => path)).toEqual(entries.map(({ path }) => path));
  expect(() => readPlaylist('01 Lamp.flac\n')).toThrow(RangeError);
});
