import { describe, expect, it } from 'vitest';
import { HeardClock } from './heard-clock.js';

describe('the clock of what is heard', () => {
  it('is not misled by reports that come late', () => {
    const clock = new HeardClock();
    expect(clock.placeAt(0)).toBeNull();
    // The sound began at 1000 ms of the page’s clock; reports are late by 5, 70, 0 and 40 ms.
    for (const [place, late] of [
      [0, 5],
      [100, 70],
      [200, 0],
      [300, 40],
    ] as const)
      clock.report(place, 1000 + place + late);
    expect(clock.placeAt(1500)).toBe(500);
  });

  it('follows a jump to another stretch, and begins anew with another run', () => {
    const clock = new HeardClock();
    clock.report(5000, 1000);
    clock.report(2000, 1100);
    expect(clock.placeAt(1100)).toBe(2000);
    // A gap in the sound puts it back for good.
    clock.report(2000, 1600);
    expect(clock.placeAt(1600)).toBe(2000);
    clock.reset();
    expect(clock.placeAt(1600)).toBeNull();
  });
});
