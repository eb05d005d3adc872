import { describe, expect, it } from 'vitest';
import { lineUpAlternate, setAlternate } from '@oiseau/album/edits';
import { samples, samplesToTicks, secondsToTicks } from '@oiseau/audio/time';
import { album } from '@oiseau/album/testing';
import { firstDifference, source, words16 } from '@oiseau/audio/testing';
import { master, planFor, readAll, render } from './testing.js';
import { audioFiles } from './planned.js';

const s = secondsToTicks;
const sources = () => [5, 6].map((seconds, i) => source(44_100, seconds, (n) => words16(n + 1000 * i)));
/** Two songs, the second with an instrumental. */
const two = setAlternate(
  album(
    { master: master(1), title: 'Lamp', isrc: 'ZZOIS2600001' },
    { master: master(2), title: 'Ebb', gapBefore: s(1), isrc: 'ZZOIS2600002' },
  ),
  't2',
  'instrumental',
  master(9),
);
const instrumental = (n: number): number => words16(n + 77_777);
const others = { [master(9)]: source(44_100, 6, instrumental) };
const paths = (deliverable: object): string[] =>
  audioFiles(planFor(two, sources(), { kind: 'tracks', ...deliverable }, others).plan).map(
    ({ path }) => path,
  );

describe('files of other recordings', () => {
  it('are named by them, and are there for the tracks that have them only', () => {
    const alternates = ['main', 'instrumental'];
    expect(paths({ alternates })).toEqual(['01 Lamp.wav', '02 Ebb.wav', '02 Ebb (instrumental).wav']);
    expect(paths({ alternates: ['instrumental'] })).toEqual(['02 Ebb (instrumental).wav']);
    expect(paths({ alternates, pattern: '{number}{alternate}' })).toEqual([
      ...['01.wav', '02.wav', '02instrumental.wav'],
    ]);
    expect(paths({ alternates, select: [1] })).toEqual(['01 Lamp.wav']);
    // One that is called like another gets a number, whichever recording it is of.
    const alike = { ...two, songs: two.songs.map((song) => ({ ...song, title: 'x' })) };
    const { plan } = planFor(alike, sources(), { kind: 'tracks', alternates, pattern: '{title}' }, others);
    expect(audioFiles(plan).map(({ path }) => path)).toEqual([
      'x.wav',
      'x (2).wav',
      'x (instrumental) (2).wav',
    ]);
  });

  it('are as long as the master’s to the sample, at its rate, whatever their own is', async () => {
    const wide = { [master(9)]: source(48_000, 6, (n) => 0.5 * Math.sin(n / 20)) };
    const deliverable = { kind: 'tracks', alternates: ['main', 'instrumental'], gaps: 'drop' };
    const { proof } = await render(two, sources(), deliverable, wide);
    expect(proof.proved).toBe(true);
    expect(proof.files.map(({ rate, frames }) => [rate, frames])).toEqual([
      [44_100, 5 * 44_100],
      [44_100, 6 * 44_100],
      [44_100, 6 * 44_100],
      [null, null],
    ]);
  });

  it('hold that recording and no other, and leave those of the masters as they are', async () => {
    const deliverable = { kind: 'tracks', gaps: 'drop', bits: 16 };
    const { folder } = await render(
      two,
      sources(),
      { ...deliverable, alternates: ['main', 'instrumental'] },
      others,
    );
    const { left } = await readAll(folder, '02 Ebb (instrumental).wav');
    expect(
      firstDifference(
        left,
        Float64Array.from({ length: 6 * 44_100 }, (_, n) => instrumental(n)),
      ),
    ).toBe(-1);
    const plain = await render(
      { ...two, songs: two.songs.map((song) => ({ ...song, alternates: {} })) },
      sources(),
      deliverable,
    );
    for (const path of ['01 Lamp.wav', '02 Ebb.wav'])
      expect(firstDifference(folder.bytes(path), plain.folder.bytes(path))).toBe(-1);
  });

  it('say so in their title, and have no ISRC, which is the master’s', () => {
    const alternates = ['main', 'instrumental'];
    const { plan } = planFor(two, sources(), { kind: 'tracks', alternates }, others);
    expect(audioFiles(plan).map(({ tags }) => [tags.TITLE, tags.ISRC])).toEqual([
      ['Lamp', 'ZZOIS2600001'],
      ['Ebb', 'ZZOIS2600002'],
      ['Ebb (instrumental)', undefined],
    ]);
  });

  it('are read from further on where they are lined up', async () => {
    const moved = lineUpAlternate(two, 't2', 'instrumental', samplesToTicks(samples(7), 44_100));
    const deliverable = { kind: 'tracks', gaps: 'drop', bits: 16, alternates: ['instrumental'] };
    const { folder, proof } = await render(moved, sources(), deliverable, others);
    const { left } = await readAll(folder, '02 Ebb (instrumental).wav');
    expect([left[0], left[6 * 44_100 - 8], left[6 * 44_100 - 7]]).toEqual([
      ...[instrumental(7), instrumental(6 * 44_100 - 1), 0],
    ]);
    expect(proof.proved).toBe(true);
  });

  it('are images and continuous files of the album with that recording wherever a song has it', async () => {
    const image = await render(two, sources(), { kind: 'cue', alternate: 'instrumental' }, others);
    expect(image.proof.proved).toBe(true);
    const { left } = await readAll(image.folder, 'image.wav');
    // From 00:02:00 on: song 1 of 5 s, a second, song 2.
    expect([left[1], left[6 * 44_100 + 1]]).toEqual([words16(1), instrumental(1)]);
    const sheet = new TextDecoder().decode(image.folder.bytes('image.cue'));
    expect(sheet).toContain('TITLE "Ebb (instrumental)"');
    expect(sheet).toContain('ISRC ZZOIS2600001');
    expect(sheet).not.toContain('ISRC ZZOIS2600002');
    const whole = await render(
      two,
      sources(),
      { kind: 'continuous', alternate: 'instrumental', bits: 16 },
      others,
    );
    const file = await readAll(whole.folder, 'd.wav');
    expect([file.left.length, file.left[6 * 44_100 + 5]]).toEqual([12 * 44_100, instrumental(5)]);
  });
});
