// @vitest-environment happy-dom
import { NO_TREATMENT, type Treatment } from '@oiseau/audio/stages';
import { act, cleanup, renderHook } from '@testing-library/react';
import { useState, type KeyboardEvent, type PointerEvent } from 'react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { SoundDesk } from './useSoundDesk.js';
import { useAutomation } from './useAutomation.js';
import { MOST_BANDS, useBandHandles } from './useBandHandles.js';

afterEach(cleanup);

/** A picture of 800 × 204 pixels. */
const box = {
  current: {
    clientWidth: 800,
    clientHeight: 204,
    addEventListener: vi.fn(),
    removeEventListener: vi.fn(),
  } as unknown as HTMLElement,
};

/** A desk that keeps what it is told. */
function useDesk(first: Treatment): SoundDesk & { readonly keys: string[] } {
  const [treatment, setTreatment] = useState(first);
  const [keys] = useState<string[]>([]);
  return {
    ...{ target: 't1', treatment, keys, dragging: false, leftOut: new Set() },
    album: {} as SoundDesk['album'],
    leaveOut: vi.fn(),
    change: (by, key = '') => {
      keys.push(key);
      setTreatment(by);
    },
    drag: setTreatment,
    drop: vi.fn(),
    takeBack: vi.fn(),
  };
}

const press = (key: string, shiftKey = false) =>
  ({ key, shiftKey, preventDefault: vi.fn(), stopPropagation: vi.fn() }) as unknown as KeyboardEvent;
const surface = (place: number) => ({ dataset: { place: String(place) }, setPointerCapture: vi.fn() });
const pointer = (place: number, clientX: number, clientY: number) =>
  ({
    button: 0,
    pointerId: 1,
    clientX,
    clientY,
    currentTarget: surface(place),
  }) as unknown as PointerEvent<HTMLButtonElement>;

describe('bands on the picture', () => {
  const open = (equaliser: Treatment['equaliser']) =>
    renderHook(() => {
      const desk = useDesk({ ...NO_TREATMENT, equaliser });
      const [band, onBand] = useState<number | null>(null);
      // 204 − 18 − 6 = 180 pixels for 2 × 6 dB: 15 a decibel.
      return { desk, band, handles: useBandHandles(desk, { box, band, onBand, reach: 6, seconds: 0 }) };
    }).result;
  const bell = (hz: number, db: number) => ({ kind: 'bell', hz, db, q: 1 }) as const;

  it('are moved by keys: half a semitone, a tenth of a decibel, ten of them with Shift', () => {
    const view = open([bell(1000, 0)]);
    const key = (name: string, shift = false) => act(() => view.current.handles.onKey(press(name, shift), 0));
    const band = () => view.current.desk.treatment.equaliser[0];
    key('ArrowUp');
    expect(band()).toEqual(bell(1000, 0.1));
    key('ArrowUp', true);
    expect(band()).toEqual(bell(1000, 1.1));
    // 1000 · 2^(1/24) = 1029.3 Hz, written with three digits.
    key('ArrowRight');
    expect(band()).toEqual(bell(1030, 1.1));
    key('+');
    expect(band()).toMatchObject({ q: 1.08 });
    key('Delete');
    expect(view.current.desk.treatment.equaliser).toEqual([]);
    expect(view.current.desk.keys).toEqual(['band 0 db', 'band 0 db', 'band 0 hz', 'band 0 q', '']);
  });

  it('lift no more than 24 dB', () => {
    const view = open([bell(1000, 23.95)]);
    act(() => view.current.handles.onKey(press('ArrowUp', true), 0));
    expect(view.current.desk.treatment.equaliser[0]).toEqual(bell(1000, 24));
  });

  it('are dragged by as many decibels as the picture has pixels for', () => {
    const view = open([bell(1000, 0)]);
    act(() => view.current.handles.drag.onPointerDown(pointer(0, 100, 100)));
    act(() => view.current.handles.drag.onPointerMove(pointer(0, 100, 70)));
    expect(view.current.band).toBe(0);
    expect(view.current.desk.treatment.equaliser[0]).toEqual(bell(1000, 2));
  });

  it('come where the picture was pressed, twelve at the most', () => {
    const view = open([]);
    // The middle of three decades from 20 Hz: 20 · 1000^0.5 = 632.5 Hz; the line of 0 dB lies 96 pixels down.
    act(() => view.current.handles.addAt(400, 96));
    expect(view.current.desk.treatment.equaliser).toEqual([bell(632, 0)]);
    for (let i = 0; i < MOST_BANDS + 3; i++) act(() => view.current.handles.addAt(400, 96));
    expect(view.current.desk.treatment.equaliser).toHaveLength(MOST_BANDS);
  });

  it('leave keys that are not theirs to others', () => {
    const view = open([bell(1000, 0)]);
    const event = press('Tab');
    act(() => view.current.handles.onKey(event, 0));
    expect(event.preventDefault).not.toHaveBeenCalled();
    expect(view.current.desk.keys).toEqual([]);
  });
});

describe('automation by points', () => {
  const open = (ride: Treatment['ride']) =>
    renderHook(() => {
      const desk = useDesk({ ...NO_TREATMENT, ride });
      // 80 s on 800 pixels, 12 dB up and down on 204.
      return { desk, automation: useAutomation(desk, box, 0, 80) };
    }).result;

  it('begins with a point where it is added, at the level that is there', () => {
    const view = open(-2);
    act(() => view.current.automation.addAt(10));
    expect(view.current.desk.treatment.ride).toEqual([{ at: 10, db: -2 }]);
    expect(view.current.automation.inHand).toEqual({ at: 10, db: -2 });
  });

  it('is set where the picture was pressed', () => {
    // 51 of 204 pixels down: 12 − 24/4 = 6 dB.
    expect(open(0).current.automation.pointAt(100, 51)).toEqual({ at: 10, db: 6 });
  });

  it('is moved by keys, and a point that is taken out is gone', () => {
    const view = open([
      { at: 10, db: 0 },
      { at: 20, db: 0 },
    ]);
    const key = (name: string, place: number, shift = false) =>
      act(() => view.current.automation.onKey(press(name, shift), place));
    key('ArrowRight', 0, true);
    key('ArrowDown', 0);
    expect(view.current.desk.treatment.ride).toEqual([
      { at: 11, db: -0.1 },
      { at: 20, db: 0 },
    ]);
    key('Delete', 0);
    expect(view.current.desk.treatment.ride).toEqual([{ at: 20, db: 0 }]);
  });

  it('is dragged between its neighbours and not past them', () => {
    const view = open([
      { at: 10, db: 0 },
      { at: 20, db: 0 },
    ]);
    act(() => view.current.automation.drag.onPointerDown(pointer(0, 100, 102)));
    act(() => view.current.automation.drag.onPointerMove(pointer(0, 400, 85)));
    // 17 pixels up are 2 dB; 300 to the right would be 40 s.
    expect(view.current.desk.treatment.ride).toEqual([
      { at: 19.99, db: 2 },
      { at: 20, db: 0 },
    ]);
  });
});
