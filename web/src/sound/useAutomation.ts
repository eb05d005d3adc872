import {
  automatedValues,
  pointsOf,
  valueAt,
  withPoint,
  type AutomatedValue,
  type MovingDb,
  type MovingPoint,
  type Treatment,
} from '@oiseau/audio/stages';
import { useState, type KeyboardEvent, type RefObject } from 'react';
import { usePointerDrag, type DragHandlers } from '../ui/drag.js';
import { onKey } from '../ui/keys.js';
import { tidy } from './bands.js';
import { REACH_DB } from './overview-drawing.js';
import type { SoundDesk } from './useSoundDesk.js';
import { say } from '../ui/messages.js';

/** With its label in the reader’s language. */
type Line = AutomatedValue<Treatment> & { readonly name: string };

/** Every value of a treatment that may be automated; an album has no ride. */
function linesOf(treatment: Treatment, ofAlbum: boolean): readonly Line[] {
  if (!ofAlbum) return automatedValues(treatment).map((line) => ({ ...line, name: say(line.label) }));
  const { ride, ...album } = treatment;
  return automatedValues(album).map((line) => ({
    ...line,
    name: say(line.label),
    changed: (value) => ({ ride, ...line.changed(value) }),
  }));
}

/** The automation of one value of a treatment at a time, and the points of it. */
export interface Automation {
  readonly lines: readonly Line[];
  readonly line: Line | undefined;
  choose(name: string): void;
  /** The place of the point in hand. */
  readonly point: number | null;
  readonly inHand: MovingPoint | undefined;
  take(place: number): void;
  /** Changes a point; without a place adds one, and with null in its stead removes it. @param key of the edit that one after the other are one step */
  setPoint(place: number | null, next: MovingPoint | null, key: string): void;
  /** @param at s */
  addAt(at: number): void;
  /** The point under a place of the picture. */
  pointAt(x: number, y: number): MovingPoint;
  onKey(event: KeyboardEvent, place: number): void;
  readonly drag: DragHandlers<HTMLButtonElement>;
}

/**
 * Automation that is set by points: typed, by keys, and dragged on a picture.
 * @param box the picture
 * @param from the stretch that it shows, s
 */
export function useAutomation(
  desk: SoundDesk,
  box: RefObject<HTMLElement | null>,
  from: number,
  to: number,
): Automation {
  const lines = linesOf(desk.treatment, desk.target === null);
  // What moves is what there is to see.
  const [which, choose] = useState(() => lines.find(({ value }) => pointsOf(value).length > 0)?.name ?? '');
  const line = lines.find(({ name }) => name === which) ?? lines[0];
  const [point, take] = useState<number | null>(null);
  const points = line ? pointsOf(line.value) : [];
  const setPoint: Automation['setPoint'] = (place, next, key) => {
    if (!line) return;
    const value = withPoint(line.value, place, next);
    desk.change(() => line.changed(value), `${line.name} ${key}`);
    take(next === null ? null : pointsOf(value).findIndex(({ at }) => at === next.at));
  };
  const pointAt: Automation['pointAt'] = (x, y) => {
    const { clientWidth: width, clientHeight: height } = box.current ?? { clientWidth: 1, clientHeight: 1 };
    const [least = 0, most = 0] = line?.range ?? [];
    const at = tidy(Math.max(from, Math.min(to, from + (x / width) * (to - from))));
    const db = REACH_DB - (2 * REACH_DB * y) / height;
    return { at, db: Math.round(10 * Math.max(least, Math.min(most, db))) / 10 };
  };
  const drag = usePointerDrag<{ readonly place: number; readonly of: MovingPoint }, HTMLButtonElement>({
    grab: ({ currentTarget }) => {
      const place = Number(currentTarget.dataset.place);
      const of = points[place];
      take(place);
      return of ? { place, of } : null;
    },
    move: ({ place, of }, by) => {
      if (!line) return;
      const { clientWidth: width, clientHeight: height } = box.current ?? { clientWidth: 1, clientHeight: 1 };
      const x = ((of.at - from) / Math.max(1e-9, to - from)) * width + by.x;
      const y = ((REACH_DB - of.db) / (2 * REACH_DB)) * height + by.y;
      desk.drag(line.changed(moved(line.value, pointAt(x, y), place)));
    },
    drop: () => desk.drop(),
    takeBack: () => desk.takeBack(),
  });
  return {
    ...{ lines, line, choose, point, take, setPoint, pointAt, drag },
    inHand: point === null ? undefined : points[point],
    addAt: (at) => line && setPoint(null, { at, db: tidy(valueAt(line.value, 1000)(1000 * at)) }, 'new'),
    onKey: (event, place) => {
      const of = points[place];
      if (!of) return;
      const step = event.shiftKey ? 1 : 0.1;
      const shift = (at: number): void => setPoint(place, { ...of, at: tidy(of.at + at) }, 'at');
      const lift = (db: number): void => setPoint(place, { ...of, db: tidy(of.db + db) }, 'db');
      const remove = (): void => setPoint(place, null, 'out');
      onKey(event, {
        ArrowLeft: () => shift(-step),
        ArrowRight: () => shift(step),
        ArrowUp: () => lift(step),
        ArrowDown: () => lift(-step),
        Delete: remove,
        Backspace: remove,
      });
    },
  };
}

/** A value with one of its points moved, between its neighbours: it keeps its place among them. */
function moved(now: MovingDb, to: MovingPoint, place: number): MovingDb {
  const points = pointsOf(now);
  const [before, after] = [points[place - 1]?.at ?? -Infinity, points[place + 1]?.at ?? Infinity];
  const at = Math.max(before + 0.01, Math.min(after - 0.01, to.at));
  return points.map((each, i) => (i === place ? { at: tidy(at), db: to.db } : each));
}
