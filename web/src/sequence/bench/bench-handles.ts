import { setFade, setGap, setOut, setPause, setStartMark, trimIn } from '@oiseau/album/edits';
import { ticks, type Ticks } from '@oiseau/audio/time';
import type { Album, MasterFactsByKey } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import type { BenchScene } from './bench-scene.js';
import { axisOf, RULER, xOf, type BenchView } from './bench-view.js';

/** What can be taken hold of on the Bench. `gap` is the song that begins, as a whole. */
export type Handle = 'out' | 'fadeOut' | 'in' | 'fadeIn' | 'gap' | 'mark' | 'pause';

/** How near a press must be, in pixels. */
const REACH = 8;

/** Heights of the flags of the start mark and the pause. */
export const MARK_Y = 27;
export const PAUSE_Y = 46;

export interface HandlePlace {
  readonly handle: Handle;
  readonly x: number;
  readonly y: number;
  /** Top and bottom of the line that the handle moves, if it has one. */
  readonly edge?: readonly [number, number];
}

/** Where the handles stand: edges at the line, marks as flags above it, fades at the far end of their curve, where the song is at its own level. */
export function handlePlaces(
  scene: BenchScene,
  view: BenchView,
  width: number,
  height: number,
): HandlePlace[] {
  const axis = axisOf(height);
  const bottom = height - RULER;
  const { before, after, startMark, pause } = scene;
  const x = (time: number): number => xOf(time, view, width);
  const above: HandlePlace[] = before
    ? [
        { handle: 'out', x: x(before.end), y: axis - 8, edge: [0, axis] },
        { handle: 'fadeOut', x: x(before.end - before.song.region.fadeOut.length), y: 8 },
      ]
    : [];
  const marks: HandlePlace[] = [{ handle: 'mark', x: x(startMark), y: MARK_Y }];
  if (pause !== null) marks.push({ handle: 'pause', x: x(pause), y: PAUSE_Y });
  return [
    ...above,
    ...marks,
    { handle: 'in', x: x(after.start), y: axis + 8, edge: [axis, bottom] },
    { handle: 'fadeIn', x: x(after.start + after.song.region.fadeIn.length), y: bottom - 8 },
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
  const inside = px >= xOf(after.start, view, width) && px <= xOf(after.end, view, width);
  return py > axis && py < height - RULER && inside ? 'gap' : null;
}

/** Where a handle stands on the disc. */
export function timeOf(handle: Handle, { before, after, startMark, pause }: BenchScene): Ticks {
  switch (handle) {
    case 'out':
      return before?.end ?? ticks(0);
    case 'fadeOut':
      return ticks((before?.end ?? 0) - (before?.song.region.fadeOut.length ?? 0));
    case 'in':
    case 'gap':
      return after.start;
    case 'fadeIn':
      return ticks(after.start + after.song.region.fadeIn.length);
    case 'mark':
      return startMark;
    case 'pause':
      return pause ?? startMark;
    default:
      return handle satisfies never;
  }
}

/**
 * The album after a handle was dragged to an absolute time, from the scene as it was before.
 * @param part of `album`, laid out
 */
export function dragged(
  album: Album,
  handle: Handle,
  to: Ticks,
  scene: BenchScene,
  part: Part,
  masters: MasterFactsByKey,
): Album {
  const { before, after } = scene;
  const { id } = after.song;
  const by = to - timeOf(handle, scene);
  switch (handle) {
    case 'out':
      return before ? setOut(album, before.song.id, ticks(before.out + by), masters) : album;
    case 'fadeOut':
      return before
        ? setFade(
            album,
            before.song.id,
            handle,
            { length: ticks(before.song.region.fadeOut.length - by) },
            masters,
          )
        : album;
    case 'in':
      return trimIn(album, id, ticks(after.song.region.in + by), masters);
    case 'fadeIn':
      return setFade(album, id, handle, { length: ticks(after.song.region.fadeIn.length + by) }, masters);
    case 'gap':
      return setGap(album, id, ticks(after.song.region.gapBefore + by));
    case 'mark':
      return setStartMark(album, id, to, part);
    case 'pause':
      return setPause(album, id, to, part);
    default:
      return handle satisfies never;
  }
}
