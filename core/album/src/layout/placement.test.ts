import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { TICKS_PER_FRAME, secondsToTicks, ticks, TICKS_PER_SECOND } from '@oiseau/audio/time';
import { sequence, sequenced } from '../testing.js';
import { markDisc } from './disc-marks.js';
import { place } from './placement.js';
import type { Sequence } from '../model/sequence.js';

const s = secondsToTicks;
/** Where everything lies of a disc. */
function layOut(of: Sequence) {
  const placement = place(of);
  const { tracks, leadOut } = markDisc(of, placement);
  return { placement, tracks: [...tracks.values()], leadOut, end: placement.end };
}
let made = 0;
const song = (...[seconds, change]: [number, Parameters<typeof sequenced>[2]?]) =>
  sequenced(`s${++made}`, seconds, change);

describe('layout (docs/rules.md 3)', () => {
  it('places a plain album: first pause, start marks, pauses, lead-out', () => {
    const layout = layOut(sequence(song(10), song(20.01), song(5)));
    // 2 s = 150; 12 s = 900 pause, 14 s = 1050; 34.01 s = 2550.75 → pause 2551, 36.01 s = 2700.75 → mark 2700
    expect(layout.tracks.map(({ start, pause }) => [pause, start])).toEqual([
      [null, 150],
      [900, 1050],
      [2551, 2700],
    ]);
    // 41.01 s = 3075.75 frames
    expect(layout.leadOut).toBe(3076);
    expect(layout.end).toBe(s(41.01));
  });

  it('has no pause where songs touch or overlap', () => {
    const layout = layOut(
      sequence(song(10), song(10, { gapBefore: ticks(0) }), song(10, { gapBefore: s(-1) })),
    );
    expect(layout.tracks.map(({ pause }) => pause)).toEqual([null, null, null]);
    expect(layout.tracks.map(({ start }) => start)).toEqual([150, 900, 1575]);
  });

  it('a gap of less than a frame has no pause', () => {
    // audio ends at 12 s (frame 900); +0.013 s lies inside frame 900, so index 01 is 900 and no frame is left for 00
    const layout = layOut(sequence(song(10), song(10, { gapBefore: s(0.013) })));
    expect(layout.tracks[1]).toMatchObject({ pause: null, start: 900 });
  });

  it('mark lead moves the marks, but never that of track 1 before 00:02:00', () => {
    const layout = layOut({
      ...sequence(song(10), song(10)),
      markLead: ticks(10 * TICKS_PER_FRAME),
    });
    expect(layout.tracks.map(({ start }) => start)).toEqual([150, 1040]);
  });

  it('a track has a lead of its own: more than the album’s, none, or a mark inside its audio', () => {
    const lead = (frames: number) => ticks(frames * TICKS_PER_FRAME);
    const layout = layOut({
      ...sequence(
        song(10),
        song(10, { markLead: lead(20) }),
        song(10, { markLead: lead(0) }),
        song(10, { markLead: lead(-30) }),
      ),
      markLead: lead(10),
    });
    // Audio starts at 2, 14, 26 and 38 s: frames 150, 1050, 1950 and 2850.
    expect(layout.tracks.map(({ start }) => start)).toEqual([150, 1030, 1950, 2880]);
  });

  it('a pause of its own begins later, also rounded up, and is gone where no frame of it is left', () => {
    const pauses = (delay: number): (number | null)[] =>
      layOut(sequence(song(10), song(10, { pauseDelay: s(delay) }))).tracks.map(({ pause }) => pause);
    // The first song ends at 12 s, frame 900; the second starts at 14 s, frame 1050.
    expect(pauses(0)).toEqual([null, 900]);
    expect(pauses(0.5)).toEqual([null, 938]);
    expect(pauses(1.99)).toEqual([null, null]);
    expect(pauses(-0.5)).toEqual([null, 863]);
  });

  it('a hidden song sounds in the first pause, before the start mark of track 1', () => {
    const layout = layOut(sequence(song(10, { numbered: false }), song(5), song(5)));
    expect([...layout.placement.songs.values()][0]).toEqual({ start: s(2), end: s(12) });
    // 12 s + 2 s of gap: frame 1050; track 1 has no pause mark, since its pause is the first pause.
    expect(layout.tracks.map(({ pause, start }) => [pause, start])).toEqual([
      [null, 1050],
      [1425, 1575],
    ]);
    expect(layout.leadOut).toBe(1950);
  });

  it('index points stand after the start mark, rounded down; the end pause moves the lead-out', () => {
    const layout = layOut({ ...sequence(song(10, { indexes: [s(1), s(2.51)] })), endPause: s(1) });
    // 150 + 75; 150 + 188.25
    expect(layout.tracks[0]?.indexes).toEqual([225, 338]);
    expect(layout.leadOut).toBe(975);
  });

  it('whatever the sequence: marks are never after the audio and less than a frame before it', () => {
    const track = fc.record({
      seconds: fc.double({ min: 4, max: 900, noNaN: true }),
      gap: fc.double({ min: 2, max: 9, noNaN: true }),
    });
    fc.assert(
      fc.property(fc.array(track, { minLength: 1, maxLength: 99 }), (tracks) => {
        const layout = layOut(
          sequence(...tracks.map(({ seconds, gap }) => song(seconds, { gapBefore: s(gap) }))),
        );
        const placed = [...layout.placement.songs.values()];
        layout.tracks.forEach(({ start, pause }, i) => {
          const early = (placed[i]?.start ?? 0) - start * TICKS_PER_FRAME;
          expect(early).toBeGreaterThanOrEqual(0);
          expect(early).toBeLessThan(TICKS_PER_FRAME);
          const before = placed[i - 1];
          if (before) expect((pause ?? 0) * TICKS_PER_FRAME).toBeGreaterThanOrEqual(before.end);
        });
        expect(layout.leadOut * TICKS_PER_FRAME).toBeGreaterThanOrEqual(layout.end);
        const total = tracks.reduce((sum, { seconds, gap }) => sum + s(seconds) + s(gap), 0);
        expect(layout.end).toBe(total);
        expect(layout.end / TICKS_PER_SECOND).toBeGreaterThan(0);
      }),
    );
  });
});
