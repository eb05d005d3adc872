import { hideFirstTrack } from '@oiseau/album/edits';
import { newAlbum, newSong, type Album } from '@oiseau/album/model';
import { writeCells } from '@oiseau/formats/tags';
import { describe, expect, it } from 'vitest';
import { albumToCsv, readCsv } from './csv.js';

const album: Album = {
  ...newAlbum('Nine Tides'),
  performer: 'Marram Lamps',
  songs: [
    { ...newSong('a', 'm', 'Lamp, Lit'), isrc: 'ZZOIS2600001' },
    { ...newSong('b', 'm', 'The “Long” Groyne'), copyPermitted: true },
  ],
};
const taken = (text: string): Album =>
  writeCells(
    album,
    readCsv(album, text).changes.map(({ edit }) => edit),
  );

describe('the words as CSV', () => {
  it('have a head, the album and a row for each track', () => {
    const lines = albumToCsv(album).split('\r\n');
    expect(lines[0]).toMatch(/^\uFEFFNo\.,Title,Performer,Songwriter/);
    expect(lines[1]).toMatch(/^Album,Nine Tides,Marram Lamps,/);
    expect(lines[2]).toMatch(/^1,"Lamp, Lit",,.*,ZZ-OIS-26-00001,,,,$/);
    expect(lines[3]).toMatch(/,yes,$/);
    expect(lines.length).toBe(5);
  });

  it('carry out nothing in a spreadsheet, and come back as they were typed', () => {
    const odd = writeCells(album, [
      { row: 'a', column: { field: 'title', second: false }, text: '=HYPERLINK("http://127.0.0.1")' },
      { row: 'b', column: { field: 'title', second: false }, text: "'-1" },
    ]);
    const text = albumToCsv(odd);
    expect(text).toContain(`"'=HYPERLINK(""http://127.0.0.1"")"`);
    expect(readCsv(odd, text)).toEqual({ changes: [], problems: [] });
    expect(readCsv(album, text).changes.map(({ to }) => to)).toEqual([
      '=HYPERLINK("http://127.0.0.1")',
      "'-1",
    ]);
  });

  it('have a row for a hidden song, and know it again', () => {
    const hidden = hideFirstTrack(album);
    const text = albumToCsv(hidden);
    expect(text.split('\r\n').map((line) => line.split(',')[0])).toEqual([
      '\uFEFFNo.',
      'Album',
      'Hidden',
      '1',
      '',
    ]);
    expect(readCsv(hidden, text)).toEqual({ changes: [], problems: [] });
    expect(readCsv(hidden, 'No,Title\r\nhidden,Hush\r\n').changes).toMatchObject([
      { place: 'the hidden track', from: 'Lamp, Lit', to: 'Hush' },
    ]);
  });

  it('change nothing when they come back as they went', () => {
    expect(readCsv(album, albumToCsv(album))).toEqual({ changes: [], problems: [] });
  });

  it('are known by names and numbers, in any order, and say what they would change', () => {
    const { changes, problems } = readCsv(
      album,
      'ISRC,Title,No\r\nzzois2600002,Groyne,2\r\n,Tides,Album\r\n',
    );
    expect(changes.map(({ place, name, from, to }) => `${name} of ${place}: ${from} → ${to}`)).toEqual([
      'ISRC of track 2:  → zzois2600002',
      'Title of track 2: The “Long” Groyne → Groyne',
      'Title of the album: Nine Tides → Tides',
    ]);
    expect(problems).toEqual([]);
    const after = taken('ISRC,Title,No\r\nzzois2600002,Groyne,2\r\n');
    expect(after.songs[1]).toMatchObject({ isrc: 'ZZOIS2600002', title: 'Groyne', copyPermitted: true });
    expect(after.songs[0]).toEqual(album.songs[0]);
  });

  it('say what they can’t be taken for', () => {
    expect(readCsv(album, 'a,b\r\n1,2\r\n').problems).toEqual([
      'No column is named after a field such as “Title” or “ISRC”.',
    ]);
    expect(readCsv(album, 'No.,Title,Mood,ISRC\r\n7,X,calm,\r\n1,"Lamp, Lit",,ZZ\r\n').problems).toEqual([
      'Column “Mood” isn’t a field and is skipped.',
      'Line 2 matches no track of this album and is skipped.',
      'ISRC of track 1, “ZZ”: 2 of 12 characters.',
    ]);
  });
});
