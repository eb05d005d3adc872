import type { Band } from '@oiseau/audio/stages';
import type { KeyboardEvent, RefObject } from 'react';
import { usePointerDrag } from '../ui/drag.js';
import { onKey } from '../ui/keys.js';
import { useWheel } from '../ui/useWheel.js';
import { handleDb, newBand, shifted, tidy, tidyHz } from './bands.js';
import { dbOfY, hzOfShare, shareOfHz, yOfDb } from './spectrum-drawing.js';
import type { SoundDesk } from './useSoundDesk.js';

export const MOST_BANDS = 12;
const GAIN = { least: -24, most: 24 };
const Q = { least: 0.1, most: 20 };

interface Picture {
  readonly box: RefObject<HTMLElement | null>;
  /** The band in hand. */
  readonly band: number | null;
  readonly onBand: (band: number | null) => void;
  /** How far up and down it reaches, dB. */
  readonly reach: number;
  /** The moment for which a moving band is drawn, s. */
  readonly seconds: number;
}

/** Bands of the equaliser as handles on a picture: dragged, moved by keys, widened by the wheel. */
export function useBandHandles(desk: SoundDesk, { box, band, onBand, reach, seconds }: Picture) {
  const { treatment } = desk;
  const bands = treatment.equaliser;
  const withBand = (place: number, changed: Band): typeof treatment => ({
    ...treatment,
    equaliser: bands.map((each, i) => (i === place ? changed : each)),
  });
  const change = (place: number, changed: Band, key: string): void =>
    desk.change(() => withBand(place, changed), `band ${place} ${key}`);
  const remove = (place: number): void => {
    onBand(null);
    desk.change((before) => ({ ...before, equaliser: before.equaliser.filter((_, i) => i !== place) }));
  };
  const widen = (place: number, by: number): void => {
    const of = bands[place];
    if (of && 'q' in of)
      change(place, { ...of, q: tidy(Math.max(Q.least, Math.min(Q.most, of.q * 1.08 ** by))) }, 'q');
  };
  useWheel(box, ({ deltaY }) => {
    if (band !== null) widen(band, deltaY < 0 ? 1 : -1);
  });
  const drag = usePointerDrag<{ readonly place: number; readonly of: Band }, HTMLButtonElement>({
    grab: ({ currentTarget }) => {
      const place = Number(currentTarget.dataset.place);
      const of = bands[place];
      onBand(place);
      return of ? { place, of } : null;
    },
    move: ({ place, of }, by) => {
      const { clientWidth: width, clientHeight: height } = box.current ?? { clientWidth: 1, clientHeight: 1 };
      const hz = tidyHz(hzOfShare(shareOfHz(of.hz) + by.x / width));
      if (!('db' in of)) return desk.drag(withBand(place, { ...of, hz }));
      const before = handleDb(of, seconds);
      const moved = dbOfY(yOfDb(before, height, reach) + by.y, height, reach) - before;
      const db = shifted(of.db, Math.round(10 * moved) / 10, GAIN.least, GAIN.most);
      desk.drag(withBand(place, { ...of, hz, db }));
    },
    drop: () => desk.drop(),
    takeBack: () => desk.takeBack(),
  });
  return {
    drag,
    /** Adds a band where the picture was pressed. */
    addAt: (x: number, y: number): void => {
      if (bands.length >= MOST_BANDS) return;
      const { clientWidth: width, clientHeight: height } = box.current ?? { clientWidth: 1, clientHeight: 1 };
      const band = newBand(tidyHz(hzOfShare(x / width)), Math.round(10 * dbOfY(y, height, reach)) / 10);
      onBand(bands.length);
      desk.change((before) => ({ ...before, equaliser: [...before.equaliser, band] }));
    },
    onKey: (event: KeyboardEvent, place: number): void => {
      const of = bands[place];
      if (!of) return;
      const many = event.shiftKey ? 10 : 1;
      const turn = (steps: number): void =>
        change(place, { ...of, hz: tidyHz(of.hz * 2 ** (steps / 24)) }, 'hz');
      const lift = (by: number): void =>
        change(place, 'db' in of ? { ...of, db: shifted(of.db, by, GAIN.least, GAIN.most) } : of, 'db');
      onKey(event, {
        ArrowLeft: () => turn(-many),
        ArrowRight: () => turn(many),
        ArrowUp: () => lift(0.1 * many),
        ArrowDown: () => lift(-0.1 * many),
        '+': () => widen(place, 1),
        '-': () => widen(place, -1),
        Delete: () => remove(place),
        Backspace: () => remove(place),
      });
    },
  };
}
