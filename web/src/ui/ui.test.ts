import { describe, expect, it } from 'vitest';
import {
  formatBytes,
  formatDb,
  formatDiscTime,
  formatRate,
  formatWait,
  formatDate,
  formatWhen,
} from './format.js';
import { heightOf } from './silhouette-drawing.js';
import { chord } from './useShortcuts.js';

describe('figures', () => {
  it('read as people write them', () => {
    expect([formatBytes(999), formatBytes(2352), formatBytes(79_800_000), formatBytes(4.1e9)]).toEqual([
      '999 bytes',
      '2.4 kB',
      '79.8 MB',
      '4.1 GB',
    ]);
    expect([formatDb(-1.26), formatDb(-0.01), formatDb(0.1, 2), formatDb(null)]).toEqual([
      '−1.3',
      '0.0',
      '0.10',
      '–',
    ]);
    expect([formatRate(44_100), formatRate(96_000), formatRate(176_400)]).toEqual([
      '44.1 kHz',
      '96 kHz',
      '176.4 kHz',
    ]);
    expect([formatWait(0.4), formatWait(12.2), formatWait(600)]).toEqual([
      'almost done',
      'about 13 s left',
      'about 10 min left',
    ]);
  });
  it('count a disc in minutes, over the hour as well', () => {
    // 79:57:00 = (79·60 + 57)·75; 7:34 = 454 s
    expect([formatDiscTime(359_775), formatDiscTime(454 * 75), formatDiscTime(0)]).toEqual([
      '79:57',
      '7:34',
      '0:00',
    ]);
  });
  it('say when', () => {
    const now = new Date(2026, 10, 24, 12);
    expect(formatWhen(new Date(2026, 10, 24, 9, 5).toISOString(), now)).toBe('today, 9:05');
    expect(formatDate(new Date(2026, 10, 24, 9, 5).toISOString())).toBe('24 November 2026, 9:05');
    expect(formatWhen(new Date(2026, 10, 23, 23, 59).toISOString(), now)).toBe('yesterday, 23:59');
    expect(formatWhen(new Date(2026, 10, 3).toISOString(), now)).toBe('3 Nov 2026');
    // What lies ahead.
    expect(formatWhen(new Date(2026, 10, 24, 22, 59).toISOString(), now)).toBe('today, 22:59');
    expect(formatWhen(new Date(2026, 10, 25, 0, 1).toISOString(), now)).toBe('tomorrow, 0:01');
    expect(formatWhen(new Date(2026, 11, 24, 22, 59).toISOString(), now)).toBe('24 Dec 2026');
  });
});

describe('keys', () => {
  const press = (
    key: string,
    held: Partial<Record<'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey', boolean>> = {},
  ) => chord({ key, ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, ...held });
  it('have one name each', () => {
    expect([
      press(' '),
      press('z', { ctrlKey: true }),
      press('Z', { metaKey: true, shiftKey: true }),
      press('ArrowUp', { altKey: true }),
      press('?', { shiftKey: true }),
    ]).toEqual(['Space', 'Ctrl+Z', 'Ctrl+Shift+Z', 'Alt+ArrowUp', '?']);
  });
});

describe('silhouettes', () => {
  it('are as high as the square root of the amplitude', () => {
    expect([heightOf(0), heightOf(0.25), heightOf(1), heightOf(1.5)]).toEqual([0, 0.5, 1, 1]);
  });
});
