import { describe, expect, it } from 'vitest';
import type { Album } from '@oiseau/album/model';
import { layOutAlbum } from '@oiseau/album/layout';
import { checkAlbum } from '@oiseau/checks';
import { readCsv } from '@oiseau/formats/disc';
import { album } from '@oiseau/album/testing';
import { source } from '@oiseau/audio/testing';
import { secondsToTicks } from '@oiseau/audio/time';
import { master, planFor, readAll, render } from './testing.js';

const s = secondsToTicks;
const sine = (amplitude: number) => (n: number) => amplitude * Math.sin((2 * Math.PI * 997 * n) / 48_000);
/** Three songs at 48 kHz, the second twice as loud for its last four seconds; the third opens side B. */
const sources = () => [
  source(48_000, 6, sine(0.25), 'int24'),
  source(48_000, 10, (n) => sine(n < 6 * 48_000 ? 0.25 : 0.5)(n), 'int24'),
  source(48_000, 5, sine(0.25), 'int24'),
];
const record: Album = {
  ...album(
    { master: master(1), title: 'Lamp', isrc: 'ZZOIS2600001' },
    { master: master(2), title: '=Ebb, “dry”', gapBefore: s(1.5) },
    { master: master(3), title: 'Neap', gapBefore: s(3) },
  ),
  parts: ['t1', 't3'].map((first) => ({
    ...{ medium: 'vinyl-7-45' as const, first, title: '', upc: '', limit: null },
  })),
};

describe('what a cutting room gets', () => {
  it('is a 24-bit file for each side at the highest rate, bit for bit, and the sheet twice', async () => {
    const { folder, proof } = await render(record, sources(), { kind: 'cutting-room' });
    expect(proof.files.map(({ path }) => path)).toEqual([
      ...['side-A.wav', 'side-B.wav', 'cutting-sheet.csv', 'cutting-sheet.pdf', 'SHA256SUMS'],
    ]);
    // The second test of a file without audio fails nowhere either.
    expect(proof.files.flatMap(({ tests }) => tests).filter(({ passed }) => !passed)).toEqual([]);
    expect(proof.files[0]).toMatchObject({ rate: 48_000, frames: 17.5 * 48_000 });
    const { left } = await readAll(folder, 'side-A.wav');
    // The side begins with its audio, whatever gap the song had; the source's words are 24 bit.
    expect(left[100]).toBeCloseTo(sine(0.25)(100), 6);
    expect(left[Math.round(7.5 * 48_000) + 50]).toBeCloseTo(sine(0.25)(50), 6);
  });

  it('tells the place, peak and loudest moment of each track', async () => {
    const { folder } = await render(record, sources(), { kind: 'cutting-room' });
    const text = new TextDecoder().decode(folder.bytes('cutting-sheet.csv'));
    expect(text).toContain("'=Ebb");
    const [head, lamp, ebb, neap] = readCsv(text);
    expect(head?.slice(0, 5)).toEqual(['position', 'title', 'start', 'length', 'gap']);
    // A sine of 0.25 in both channels: −12.04 dBTP; of 997 Hz on two channels −12.04 LUFS.
    expect(lamp).toEqual([
      'A1',
      'Lamp',
      '0:00.0',
      '0:06.0',
      '0.00',
      '-12.0',
      '-12.0',
      expect.stringMatching(/^0:0[3-6]/),
      'ZZOIS2600001',
      '',
    ]);
    // It begins at 7.5 s; from its second 6 on it is twice as loud: three such seconds end at 16.5 s at the earliest.
    expect(ebb?.slice(0, 8)).toEqual([
      'A2',
      '=Ebb, “dry”',
      '0:07.5',
      '0:10.0',
      '1.50',
      '-6.0',
      '-6.0',
      expect.stringMatching(/^0:1[67]/),
    ]);
    expect(neap?.slice(0, 5)).toEqual(['B1', 'Neap', '0:00.0', '0:05.0', '0.00']);
    const paper = JSON.parse(new TextDecoder().decode(folder.bytes('cutting-sheet.pdf'))) as {
      rows: { cells: string[] }[];
      columns: object[];
    };
    expect(paper.rows.map(({ cells }) => cells.length)).toEqual([9, 9, 9]);
    expect(paper.columns).toHaveLength(9);
  });

  it('is none where the album has no side', () => {
    const disc = { ...record, parts: [] };
    const { plan, input } = planFor(disc, sources(), { kind: 'cutting-room' });
    expect(plan.files).toEqual([]);
    const subject = { ...disc, deliverables: [plan.deliverable] };
    const parts = layOutAlbum(subject, input.masters);
    expect(checkAlbum({ album: subject, parts, masters: input.masters })[0]).toEqual({
      ...{ code: 'no-side', severity: 'error', deliverable: 'd' },
    });
  });
});
