import {
  setFade,
  setGap,
  setOut,
  ticks,
  trimIn,
  type Album,
  type MasterFacts,
  type Ticks,
} from '@oiseau/core';
import type { BenchScene } from './bench-scene.js';
import { axisOf, RULER, xOf, type BenchView } from './bench-view.js';

/** What can be taken hold of on the Bench. `gap` is the song that begins, as a whole. */
export type Handle = 'out' | 'fadeOut' | 'in' | 'fadeIn' | 'gap';

/** How near a press must be, in pixels. */
const REACH = 8;

export interface HandlePlace {
  readonly handle: Handle;
  readonly x: number;
  readonly y: number;
  /** Top and bottom of the line that the handle moves, if it has one. */
  readonly edge?: readonly [number, number];
}

/** Where the handles stand: edges at the line, fades at the far end of their curve, where the song is at its own level. */
export function handlePlaces(
  scene: BenchScene,
  view: BenchView,
  width: number,
  height: number,
): HandlePlace[] {
  const axis = axisOf(height);
  const bottom = height - RULER;
  const { before, after } = scene;
  const x = (time: number): number => xOf(time, view, width);
  const above: HandlePlace[] = before
    ? [
        { handle: 'out', x: x(before.audioEnd), y: axis - 8, edge: [0, axis] },
        { handle: 'fadeOut', x: x(before.audioEnd - before.track.fadeOut.length), y: 8 },
      ]
    : [];
  return [
    ...above,
    { handle: 'in', x: x(after.audioStart), y: axis + 8, edge: [axis, bottom] },
    { handle: 'fadeIn', x: x(after.audioStart + after.track.fadeIn.length), y: bottom - 8 },
  ];
}

/** The handle under a place: a knob, an edge, or else the song that begins; null over the one that ends. */
export function handleUnder(
  px: number,
  py: number,
  scene: BenchScene,
  view: BenchView,
  width: number,
  height: number,
): Handle | null {
  const places = handlePlaces(scene, view, width, height);
  const knob = places.find(({ x, y }) => Math.hypot(px - x, py - y) <= REACH + 2);
  if (knob) return knob.handle;
  const edge = places.find(
    ({ x, edge: line }) => line && py >= line[0] && py <= line[1] && Math.abs(px - x) <= REACH / 2,
  );
  if (edge) return edge.handle;
  const axis = axisOf(height);
  const { after } = scene;
  const inside = px >= xOf(after.audioStart, view, width) && px <= xOf(after.audioEnd, view, width);
  return py > axis && py < height - RULER && inside ? 'gap' : null;
}

/** Drags land on CD frames, where a disc can have its marks; without snapping on the tick. */
const FRAME = 9_408_000;
export const snapped = (time: number, snap: boolean): Ticks =>
  ticks(snap ? Math.round(time / FRAME) * FRAME : Math.round(time));

/**
 * The album after a handle was dragged by `moved`, from the scene as it was before.
 * @param index of the track that begins
 */
export function dragged(
  album: Album,
  index: number,
  handle: Handle,
  moved: Ticks,
  scene: BenchScene,
  masters: ReadonlyMap<string, MasterFacts>,
  snap: boolean,
): Album {
  const { before, after } = scene;
  switch (handle) {
    case 'out':
      return before ? setOut(album, index - 1, snapped(before.out + moved, snap), masters) : album;
    case 'fadeOut':
      return before
        ? setFade(
            album,
            index - 1,
            'fadeOut',
            { length: snapped(before.track.fadeOut.length - moved, snap) },
            masters,
          )
        : album;
    case 'in':
      return trimIn(album, index, snapped(after.track.in + moved, snap), masters);
    case 'fadeIn':
      return setFade(
        album,
        index,
        'fadeIn',
        { length: snapped(after.track.fadeIn.length + moved, snap) },
        masters,
      );
    case 'gap':
      return setGap(album, index, snapped(after.track.gapBefore + moved, snap));
    default:
      return handle satisfies never;
  }
}
