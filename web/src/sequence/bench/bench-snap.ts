import { beatsBetween } from '@oiseau/album/model';
import { ticks, TICKS_PER_FRAME, TICKS_PER_SECOND, type Ticks } from '@oiseau/audio/time';
import type { Handle } from './bench-handles.js';
import { originOf, type BenchScene } from './bench-scene.js';
import type { BenchView } from './bench-view.js';
import { t } from '../../ui/messages.js';

/** What a drag may be caught by. */
export interface SnapChoice {
  readonly frames: boolean;
  readonly beats: boolean;
  readonly edges: boolean;
  readonly zeros: boolean;
}
export const ALL_SNAPS: SnapChoice = { frames: true, beats: true, edges: true, zeros: true };
export const NO_SNAP: SnapChoice = { frames: false, beats: false, edges: false, zeros: false };

/** A place that caught a drag, and why. */
export interface Caught {
  readonly time: Ticks;
  /** Where the reason lies: with a first sound that falls on a beat, not where the song begins. */
  readonly at: Ticks;
  readonly words: string;
}

/** How near a place must be to catch a drag, in pixels. */
const REACH_PX = 7;
/** Closer than this the frames of the disc would be leaps; seconds in sight. */
const CLOSE_S = 0.1;

/**
 * Where a handle that is dragged to a time comes to lie: on the nearest beat or edge of sound within reach, else on a
 * zero crossing, else on a frame of the disc.
 */
export function snap(
  handle: Handle,
  to: Ticks,
  scene: BenchScene,
  view: BenchView,
  width: number,
  choice: SnapChoice,
): { readonly time: Ticks; readonly caught: Caught | null } {
  const span = view.end - view.start;
  const reach = (REACH_PX / width) * span;
  const near = [
    ...(choice.beats ? onBeats(handle, to, scene, reach) : []),
    ...(choice.edges ? onEdges(handle, scene) : []),
  ].filter(({ time }) => Math.abs(time - to) <= reach);
  const [caught] = near.sort((a, b) => Math.abs(a.time - to) - Math.abs(b.time - to));
  if (caught) return { time: caught.time, caught };
  const zero = choice.zeros ? onZero(handle, to, scene) : null;
  if (zero && Math.abs(zero.time - to) <= reach) return { time: zero.time, caught: zero };
  const framed = choice.frames && span > CLOSE_S * TICKS_PER_SECOND;
  return { time: framed ? ticks(Math.round(to / TICKS_PER_FRAME) * TICKS_PER_FRAME) : to, caught: null };
}

/** Beats of the song that ends; its successor may begin on one, or sound for the first time on one. */
function onBeats(handle: Handle, to: Ticks, { before, after }: BenchScene, reach: number): Caught[] {
  const tempo = before?.song.marks.tempo;
  if (!tempo || !['gap', 'out', 'fadeOut', 'fadeIn'].includes(handle)) return [];
  const origin = originOf(before);
  const around = (time: number): Ticks[] =>
    beatsBetween(tempo, origin, ticks(time - reach), ticks(time + reach)).map((beat) => beat.time);
  const direct = around(to).map((time) => ({ time, at: time, words: t('on the beat') }));
  const first = after.edges[0];
  if (handle !== 'gap' || !first || first.start <= after.song.region.in) return direct;
  const silence = first.start - after.song.region.in;
  const sounding = around(to + silence).map((time) => ({
    time: ticks(time - silence),
    at: time,
    words: t('first sound on the beat'),
  }));
  return [...direct, ...sounding];
}

/** Where sound was found to begin and to end. */
function onEdges(handle: Handle, { before, after }: BenchScene): Caught[] {
  const ends = (before?.edges ?? []).map(({ levelDb, end }) =>
    caughtAt(ticks((before ? originOf(before) : 0) + end), t('sound ends, −{level} dB', { level: -levelDb })),
  );
  const starts = after.edges.map(({ levelDb, start }) =>
    caughtAt(ticks(originOf(after) + start), t('sound begins, −{level} dB', { level: -levelDb })),
  );
  switch (handle) {
    case 'out':
    case 'fadeOut':
      return ends;
    case 'pause':
      return [...ends, ...(before ? [caughtAt(before.end, t('end of the previous track'))] : [])];
    case 'in':
    case 'fadeIn':
      return starts;
    case 'mark':
      return [...starts, caughtAt(after.start, t('start of the track'))];
    case 'gap':
      return before ? [caughtAt(before.end, t('directly at its end'))] : [];
    default:
      return handle satisfies never;
  }
}

const caughtAt = (time: Ticks, words: string): Caught => ({ time, at: time, words });

function onZero(handle: Handle, to: Ticks, { before, after }: BenchScene): Caught | null {
  const voice = handle === 'out' ? before : handle === 'in' ? after : null;
  if (!voice) return null;
  const origin = originOf(voice);
  const zero = voice.zeroNear(ticks(to - origin));
  return zero === null ? null : caughtAt(ticks(origin + zero), t('zero crossing'));
}
