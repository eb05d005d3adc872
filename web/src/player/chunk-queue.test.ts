import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ChunkQueue, Sides } from './chunk-queue.js';
import type { AudioChunk } from './protocol.js';
import { RAMP } from './ramp.js';

/** A chunk whose every sample has one value. */
function chunk(time: number, length: number, value: number, change: Partial<AudioChunk> = {}): AudioChunk {
  const [left, right] = [new Float32Array(length).fill(value), new Float32Array(length).fill(-value)];
  return { run: 1, time, position: 1000 + time, left, right, other: null, last: false, ...change };
}

/** Plays everything that waits, by quanta of so many samples. */
function played(queue: ChunkQueue, quantum = 128, most = Infinity): number[] {
  const samples: number[] = [];
  for (let next = queue.next(quantum); next; next = queue.next(quantum)) {
    samples.push(...next.chunk.left.subarray(next.offset, next.offset + next.count));
    if (samples.length >= most) break;
  }
  return samples;
}

describe('chunks that wait', () => {
  it('are played one after the other, and say where that is', () => {
    const queue = new ChunkQueue();
    queue.put(chunk(0, 200, 0.1));
    queue.put(chunk(200, 100, 0.2));
    expect(queue.position).toBe(1000);
    expect(played(queue, 128, 128)).toHaveLength(128);
    expect([queue.position, queue.played]).toEqual([1128, 128]);
    expect(played(queue)).toEqual([
      ...new Array(72).fill(Math.fround(0.1)),
      ...new Array(100).fill(Math.fround(0.2)),
    ]);
    expect(queue.position).toBeNull();
  });

  it('give way to one that takes their place, without a jump and without a sample more or less', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 3000 }), fc.integer({ min: 0, max: 3500 }), (heard, at) => {
        const queue = new ChunkQueue();
        queue.put(chunk(0, 2000, 0));
        queue.put(chunk(2000, 2000, 0));
        const before = played(queue, 1, heard);
        // It comes for a moment that lies ahead, or is over already.
        queue.put(chunk(at, 4500 - at, 1, { last: true }));
        const after = played(queue);
        expect(before.length + after.length).toBe(4500);
        const from = Math.max(heard, at) - heard;
        expect(after.slice(0, from).every((sample) => sample === 0)).toBe(true);
        const fade = after.slice(from, from + RAMP);
        for (let i = 1; i < fade.length; i++)
          expect((fade[i] ?? 0) - (fade[i - 1] ?? 0)).toBeLessThan(1.5 / Math.min(RAMP, 4000 - from - heard));
        expect(after.at(-1)).toBe(1);
      }),
      { numRuns: 60 },
    );
  });
});

describe('two sides of a moment', () => {
  it('change over within 8 ms, each with its own gain', () => {
    const sides = new Sides();
    const other = { left: new Float32Array(1000).fill(1), right: new Float32Array(1000).fill(1) };
    const both = chunk(0, 1000, 0.5, { other });
    const [left, right] = [new Float32Array(1000), new Float32Array(1000)];
    sides.hear(true, { own: 1, other: 0.25 });
    sides.mix(both, 0, 1000, left, right, 0);
    // From 0.5 of the one to 1 · 0.25 of the other.
    expect(left[0]).toBeCloseTo(0.5, 2);
    expect(left[RAMP]).toBe(0.25);
    for (let i = 1; i < 1000; i++) expect(Math.abs((left[i] ?? 0) - (left[i - 1] ?? 0))).toBeLessThan(0.01);
    sides.hear(false, { own: 1, other: 0.25 });
    sides.arrive();
    sides.mix(both, 0, 1000, left, right, 0);
    expect(left[0]).toBe(0.5);
  });

  it('are one where there is nothing else', () => {
    const sides = new Sides();
    sides.hear(true, { own: 1, other: 1 });
    sides.arrive();
    const [left, right] = [new Float32Array(10), new Float32Array(10)];
    sides.mix(chunk(0, 10, 0.5), 0, 10, left, right, 0);
    expect([left[3], right[3]]).toEqual([0.5, -0.5]);
  });
});
