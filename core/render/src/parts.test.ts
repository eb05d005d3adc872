import { describe, expect, it } from 'vitest';
import type { Album, Medium } from '@oiseau/album/model';
import { readCueSheet } from '@oiseau/formats/disc';
import { album } from '@oiseau/album/testing';
import { firstDifference, source, words16 } from '@oiseau/audio/testing';
import { secondsToTicks } from '@oiseau/audio/time';
import { master, planFor, readAll, render } from './testing.js';
import { UntestedFile } from './proof-file.js';
import { proveRender } from './proof.js';
import { audioFiles } from './planned.js';

const s = secondsToTicks;
const SECONDS = [5, 6, 4, 7];
const sources = () => SECONDS.map((seconds, i) => source(44_100, seconds, (n) => words16(n + 1000 * i)));
/** Four songs; the third opens a second part. */
const parted = (...media: [Medium, Medium]): Album => ({
  ...album(
    { master: master(1), title: 'Lamp', isrc: 'ZZOIS2600001' },
    { master: master(2), title: 'Ebb', gapBefore: s(1.01) },
    { master: master(3), title: 'Neap', gapBefore: s(3), isrc: 'ZZOIS2600003' },
    { master: master(4), title: 'Salt, “dry”', gapBefore: s(0.51) },
  ),
  parts: media.map((medium, i) => ({
    ...{ medium, first: `t${2 * i + 1}`, title: i === 1 ? 'The Ebb' : '', upc: '', limit: null },
  })),
});

describe('an album on two discs', () => {
  const two = parted('cd', 'cd');

  it('has an image for each, in a folder of its own, and each is its songs alone', async () => {
    const { folder, proof } = await render(two, sources(), { kind: 'cue' });
    expect(proof.proved).toBe(true);
    expect(proof.files.map(({ path }) => path)).toEqual([
      ...['disc-1/image.wav', 'disc-1/image.cue', 'disc-2/image.wav', 'disc-2/image.cue', 'SHA256SUMS'],
    ]);
    // The second disc: 3 s of first pause, song 3 of 4 s, 0.51 s, song 4 of 7 s: from 00:02:00 on 12.51 s.
    const image = await readAll(folder, 'disc-2/image.wav');
    expect(image.left.length).toBe(Math.ceil(12.51 * 75) * 588);
    expect(image.left[44_100 - 1]).toBe(0);
    expect(image.left[44_100]).toBe(words16(2000));
    const sheet = readCueSheet(new TextDecoder().decode(folder.bytes('disc-2/image.cue')));
    expect([sheet.title, sheet.file]).toEqual(['The Ebb', 'image.wav']);
    expect(sheet.tracks.map(({ title, isrc, indexes }) => [title, isrc, indexes.at(-1)?.frames])).toEqual([
      ['Neap', 'ZZOIS2600003', 75],
      // 3 + 4 + 0.51 s: frame 563.25, rounded down, 150 of them before the file.
      ['Salt, “dry”', '', 413],
    ]);
    // Alone on one disc the same songs are the same image, dither and all.
    const alone = { ...two, songs: two.songs.slice(2), parts: [] };
    const other = await render(alone, sources().slice(2), { kind: 'cue' });
    const bytes = other.folder.bytes('image.wav');
    expect(firstDifference(bytes, folder.bytes('disc-2/image.wav'))).toBe(-1);
  });

  it('has a disc description for each, with checksums of its own', async () => {
    const { folder, proof } = await render(two, sources(), { kind: 'ddp' });
    // This folder's checksums are none of md5sum's: the command line's test has real ones.
    const failed = proof.files.flatMap(({ tests }) => tests.filter(({ passed }) => !passed));
    expect(failed.map(({ id }) => id)).toEqual(['checksums', 'checksums']);
    expect(proof.files.map(({ path }) => path)).toContain('disc-2/PQDESCR');
    const lines = new TextDecoder().decode(folder.bytes('disc-2/MD5SUMS')).trim().split('\n');
    expect(lines.map((line) => line.split('  ')[1])).toEqual([
      ...['DDPID', 'DDPMS', 'PQDESCR', 'CDTEXT.BIN', 'IMAGE.DAT'],
    ]);
  });

  it('counts its files of tracks anew on each disc; they are chosen by their number in the album', async () => {
    const { plan, proof } = await render(two, sources(), {
      kind: 'tracks',
      pattern: '{position} {title}',
      select: [2, 4],
    });
    expect(proof.proved).toBe(true);
    expect(audioFiles(plan).map(({ path, tags }) => [path, tags.TRACKNUMBER, tags.DISCNUMBER])).toEqual([
      ['disc-1/1-02 Ebb.wav', '2', '1'],
      ['disc-2/2-02 Salt, “dry”.wav', '2', '2'],
    ]);
    expect(audioFiles(plan).map(({ tags }) => [tags.TRACKTOTAL, tags.DISCTOTAL])).toEqual([
      ['2', '2'],
      ['2', '2'],
    ]);
  });

  it('has a continuous file for each part; a section is cut where its places are', async () => {
    const { plan } = planFor(two, sources(), { name: 'whole', kind: 'continuous' });
    expect(plan.files.map(({ path }) => path)).toEqual([
      ...['whole-disc-1.wav', 'whole-disc-1.cue', 'whole-disc-2.wav', 'whole-disc-2.cue', 'SHA256SUMS'],
    ]);
    const section = planFor(parted('cd', 'cd'), sources(), { name: 'w', kind: 'continuous', from: 6.9 });
    // From 6.9 s: disc 1 lasts 12.01 s from its start mark, disc 2 11.51 s.
    expect(audioFiles(section.plan).map(({ length }) => Math.round(length / 441))).toEqual([511, 461]);
  });
});

describe('an album on two sides', () => {
  const sides = parted('vinyl-12-33', 'vinyl-12-33');

  it('has one file a side, from its first audio to its last, and a sheet of both', async () => {
    const { folder, plan, proof } = await render(sides, sources(), { name: 'cut', kind: 'continuous' });
    expect(proof.files.flatMap(({ tests }) => tests.filter(({ passed }) => !passed))).toEqual([]);
    expect(plan.files.map(({ path }) => path)).toEqual([
      ...[
        'cut-side-A.wav',
        'cut-side-A.cue',
        'cut-side-B.wav',
        'cut-side-B.cue',
        'side-sheet.csv',
        'SHA256SUMS',
      ],
    ]);
    const [a, b] = [await readAll(folder, 'cut-side-A.wav'), await readAll(folder, 'cut-side-B.wav')];
    expect([a.left.length, b.left.length]).toEqual([12.01 * 44_100, 11.51 * 44_100]);
    expect([a.left[0], b.left[0]]).toEqual([words16(0), words16(2000)]);
    expect(new TextDecoder().decode(folder.bytes('side-sheet.csv'))).toBe(
      'part,position,title,start,length,gap,isrc\r\n' +
        'A,A1,Lamp,0.000,5.000,1.010,ZZOIS2600001\r\n' +
        'A,A2,Ebb,6.010,6.000,,\r\n' +
        'B,B1,Neap,0.000,4.000,0.510,ZZOIS2600003\r\n' +
        'B,B2,"Salt, “dry”",4.510,7.000,,\r\n',
    );
  });

  it('cuts its tracks at samples, not at frames', async () => {
    const { plan } = await render(sides, sources(), { kind: 'tracks', bits: 16 });
    expect(audioFiles(plan).map(({ path, length, tags }) => [path, length, tags.DISCNUMBER])).toEqual([
      ['side-A/01 Lamp.wav', 6.01 * 44_100, '1'],
      ['side-A/02 Ebb.wav', 6 * 44_100, '1'],
      ['side-B/01 Neap.wav', 4.51 * 44_100, '1'],
      ['side-B/02 Salt, “dry”.wav', 7 * 44_100, '1'],
    ]);
  });

  it('has no image', () => {
    expect(planFor(sides, sources(), { kind: 'ddp' }).plan.files).toEqual([]);
    const mixed = planFor(parted('cd', 'vinyl-7-45'), sources(), { kind: 'cue' }).plan;
    expect(mixed.files.map(({ path }) => path)).toEqual([
      'disc-1/image.wav',
      'disc-1/image.cue',
      'SHA256SUMS',
    ]);
  });
});

describe('the proof', () => {
  it('of a file that nothing is tested of is an error, not silence', async () => {
    const one = album({ master: master(1) });
    const { folder, plan } = await render(one, sources().slice(0, 1), { kind: 'cue' });
    // As if a kind of file had been written that its prover has nothing to say about.
    await expect(proveRender(plan, [], 1, false, folder, () => undefined)).rejects.toThrow(UntestedFile);
  });

  it('only reads', async () => {
    const one = album({ master: master(1) });
    const { plan, input } = planFor(one, sources().slice(0, 1), { kind: 'tracks' });
    const { folder } = await render(one, sources().slice(0, 1), { kind: 'tracks' });
    const before = new Map([...folder.files].map(([path]) => [path, folder.bytes(path)]));
    const refuse = () => Promise.reject(new Error('the prover wrote'));
    const readOnly = Object.assign(Object.create(folder) as typeof folder, {
      ...{ createFile: refuse, patch: refuse, prepend: refuse, tag: refuse },
    });
    const { renderPlan } = await import('./render.js');
    const { written } = await renderPlan(plan, input, folder, () => undefined);
    const proof = await proveRender(plan, written, 1, false, readOnly, () => undefined);
    expect(proof.proved).toBe(true);
    for (const [path, bytes] of before) expect(firstDifference(folder.bytes(path), bytes)).toBe(-1);
  });
});
