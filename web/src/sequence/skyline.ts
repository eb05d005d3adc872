import {
  framesToTicks,
  ticks,
  TICKS_PER_SECOND,
  ticksToSeconds,
  type Interval,
  type Ticks,
} from '@oiseau/audio/time';
import { trackMarks } from '@oiseau/formats/disc';
import type { Part } from '@oiseau/album/layout';
import type { Silhouette } from '@oiseau/audio/measure';
import type { Palette } from '../ui/canvas.js';
import { drawSilhouette } from '../ui/silhouette-drawing.js';

/** One ground line: a disc or a side as it is laid out, and where on the picture it stands. */
export interface SkylineRow {
  readonly part: Part;
  /** Its upper edge and how high it is, in pixels. */
  readonly top: number;
  readonly height: number;
  /** Room under its ground line, for numbers and titles. */
  readonly foot: number;
}

/** What the Skyline draws: every part on a ground line of its own, all to one scale. */
export interface SkylineScene {
  readonly rows: readonly SkylineRow[];
  /** The number of the part in hand. */
  readonly inHand: number;
  readonly silhouettes: ReadonlyMap<string, Silhouette>;
  /** The chosen songs. */
  readonly chosen: ReadonlySet<string>;
  readonly view: SkylineView;
  /** The track that is being dragged, and the place where it would go. */
  readonly drag: TrackDrag | null;
}

/** A track on its way to another place. */
export interface TrackDrag {
  readonly id: string;
  /** The part in which it would be, from 1, and its place there among the tracks, from 0. */
  readonly part: number;
  readonly to: number;
}

/** Room above the silhouettes and, under the ground line, for numbers and titles, or for numbers alone. */
const TOP = 6;
const FOOT = 34;
const NUMBERS = 19;
/** Room to the right of the lead-out, so that the end of the disc can be seen. */
export const RIGHT = 10;
/** Room at the left for what the parts are called, where there are several. */
const GUTTER = 30;
/** Height of an album of one part; of several of the one in hand; of the others together, and of each of them. */
const ONE = 160;
const IN_HAND = 104;
const OTHERS = 148;
const MOST_OTHER = 64;
const LEAST_OTHER = 16;
/** Lower than this there is no room for numbers. */
const LEAST_WITH_NUMBERS = 44;

/** The height of a window for which these heights are meant, and how much higher the picture may become in a larger one. */
const MEANT_FOR = 800;
const MOST_TIMES = 2;
/** How much more room there is in a window of this height. */
export const roomIn = (windowHeight: number): number =>
  Math.max(1, Math.min(MOST_TIMES, windowHeight / MEANT_FOR));

/**
 * Where the parts of an album stand on the picture: the one in hand high, the others as high as there is room.
 * @param room see `roomIn`
 */
export function rowsOf(parts: readonly Part[], inHand: number, room = 1): SkylineRow[] {
  const [only, ...more] = parts;
  const times = (height: number): number => Math.round(room * height);
  if (only && more.length === 0) return [{ part: only, top: 0, height: times(ONE), foot: FOOT }];
  const other = Math.max(LEAST_OTHER, Math.min(times(MOST_OTHER), Math.floor(times(OTHERS) / more.length)));
  let top = 0;
  return parts.map((part) => {
    const isInHand = part.number === inHand;
    const height = isInHand ? times(IN_HAND) : other;
    const foot = isInHand ? FOOT : other >= LEAST_WITH_NUMBERS ? NUMBERS : 3;
    const row = { part, top, height, foot };
    top += height;
    return row;
  });
}

/** How high the picture is. */
export const heightOf = (rows: readonly SkylineRow[]): number =>
  rows.reduce((sum, { height }) => sum + height, 0);

/** The row at a height of the picture; the nearest where it lies outside. */
export const rowAt = (rows: readonly SkylineRow[], y: number): SkylineRow | undefined =>
  rows.find(({ top, height }) => y < top + height) ?? rows.at(-1);

/** Room at the left of a picture with so many rows. */
export const gutterOf = (rows: readonly unknown[]): number => (rows.length > 1 ? GUTTER : 0);

/** The closest look at the disc: a minute of it. */
const CLOSEST = ticks(60 * TICKS_PER_SECOND);

/** The stretch of the parts that is in sight, in time of each. */
export type SkylineView = Interval<Ticks>;

/** Where a part ends: a disc at its lead-out, a side with its last audio. */
export const endOf = ({ disc, placement }: Part): Ticks =>
  disc ? framesToTicks(disc.leadOut) : placement.end;

/** As much as the longest part takes. */
export function wholeView(parts: readonly Part[]): SkylineView {
  return { start: ticks(0), end: ticks(Math.max(1, ...parts.map(endOf))) };
}

/** Place of a time on a Skyline of this width. @param left room at the left */
export function xOf({ start, end }: SkylineView, time: number, width: number, left = 0): number {
  return left + ((time - start) / (end - start)) * (width - left - RIGHT);
}

/** The time at a place, within what is in sight. */
export function timeAt({ start, end }: SkylineView, x: number, width: number, left = 0): Ticks {
  const share = Math.max(0, Math.min(1, (x - left) / (width - left - RIGHT)));
  return ticks(Math.round(start + share * (end - start)));
}

/** Closer (or wider, for a factor over 1) around a time that stays where it is, between a minute and the whole. */
export function zoomed(view: SkylineView, factor: number, around: Ticks, whole: SkylineView): SkylineView {
  const span = view.end - view.start;
  const wide = Math.min(whole.end, Math.max(Math.min(CLOSEST, whole.end), span * factor));
  return within(around - ((around - view.start) / span) * wide, wide, whole);
}

/** The same span further along, by a share of what is in sight. */
export function panned(view: SkylineView, share: number, whole: SkylineView): SkylineView {
  const wide = view.end - view.start;
  return within(view.start + share * wide, wide, whole);
}

/** A view no longer than the whole that does not reach beyond its ends. */
function within(from: number, wide: number, whole: SkylineView): SkylineView {
  const span = Math.min(wide, whole.end);
  const start = Math.max(0, Math.min(whole.end - span, from));
  return { start: ticks(Math.round(start)), end: ticks(Math.round(start + span)) };
}

/**
 * Where a track that is dragged would go in a part: before the first track whose middle lies behind the place, counted as the place
 * it ends up at.
 */
export function placeAt({ tracks, placement }: Part, dragged: string, time: Ticks): number {
  return tracks.filter(({ id }) => {
    const placed = placement.songs.get(id);
    return placed && id !== dragged && (placed.start + placed.end) / 2 < time;
  }).length;
}

/** Every part to scale: each track a silhouette on its part’s ground line, as high as it is loud. */
export function drawSkyline(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  palette: Palette,
  scene: SkylineScene,
): void {
  context.clearRect(0, 0, width, height);
  // What is looked at closely ends where the names of the parts stand.
  const left = gutterOf(scene.rows);
  context.save();
  context.beginPath();
  context.rect(left, 0, width - left, height);
  context.clip();
  for (const row of scene.rows) drawRow(context, width, palette, scene, row);
  context.restore();
  if (left > 0) for (const row of scene.rows) drawName(context, palette, scene, row);
}

function drawRow(
  context: CanvasRenderingContext2D,
  width: number,
  palette: Palette,
  scene: SkylineScene,
  { part, top: edge, height, foot }: SkylineRow,
): void {
  const { silhouettes, chosen, view, drag } = scene;
  const left = gutterOf(scene.rows);
  const at = (time: number): number => xOf(view, time, width, left);
  const ground = edge + height - foot;
  const top = edge + (foot < NUMBERS ? 2 : TOP);
  for (const { id, region } of part.songs) {
    const placed = part.placement.songs.get(id);
    if (!placed) continue;
    // Of a song that reaches out of sight only what can be seen is drawn.
    const start = Math.max(placed.start, view.start);
    const end = Math.min(placed.end, view.end);
    const x = at(start);
    const right = at(end);
    if (right <= x) continue;
    const isChosen = chosen.has(id);
    if (isChosen) {
      context.fillStyle = palette.accent;
      context.globalAlpha = 0.12;
      context.fillRect(x, top, right - x, ground - top);
      context.globalAlpha = 1;
    }
    const outline = silhouettes.get(region.master);
    if (outline) {
      const from = ticksToSeconds(ticks(region.in + start - placed.start)) * 75;
      const stretch = {
        x,
        width: right - x,
        ground,
        height: ground - top,
        from,
        to: from + ticksToSeconds(ticks(end - start)) * 75,
      };
      // Not quite opaque: where two songs overlap, both can be seen.
      context.fillStyle = isChosen ? palette.accent : palette.soft;
      context.globalAlpha = id === drag?.id ? 0.2 : isChosen ? 0.4 : 0.85;
      drawSilhouette(context, outline, stretch, 'peak');
      context.globalAlpha = id === drag?.id ? 0.3 : isChosen ? 0.9 : 0.85;
      context.fillStyle = isChosen ? palette.accent : palette.ink;
      drawSilhouette(context, outline, stretch, 'rms');
      context.globalAlpha = 1;
    }
  }
  context.fillStyle = palette.ink;
  const end = at(Math.max(1, endOf(part)));
  context.fillRect(left, ground, Math.min(width, end) - left, 1);
  // The lead-out: the end of the disc.
  context.fillRect(end, top, 1, ground - top + Math.min(6, foot));
  if (drag?.part === part.number) {
    context.fillStyle = palette.accent;
    context.fillRect(at(dropTime(part, drag)) - 2, edge, 4, ground - edge);
  }
  drawFoot(context, width, ground, foot, palette, scene, part);
}

/** What a part is called, where it stands. */
function drawName(
  context: CanvasRenderingContext2D,
  palette: Palette,
  { inHand }: SkylineScene,
  { part, top, height, foot }: SkylineRow,
): void {
  const isInHand = part.number === inHand;
  context.fillStyle = isInHand ? palette.accent : palette.muted;
  const size = Math.min(16, Math.max(11, height - foot));
  context.font = `${isInHand ? 600 : 400} ${size}px 'Source Sans 3 Variable', sans-serif`;
  context.textBaseline = 'bottom';
  context.fillText(part.label, 2, top + height - foot + (size <= 13 ? 3 : 2));
}

/** Between the two tracks where the dragged one would come to stand. */
function dropTime({ tracks, placement }: Part, { id, to }: TrackDrag): number {
  const others = tracks.filter((track) => track.id !== id);
  return placement.songs.get(others[to]?.id ?? '')?.start ?? placement.end;
}

/** A tick at each start mark, a short one at each index point, the number, and the title where it fits. */
function drawFoot(
  context: CanvasRenderingContext2D,
  width: number,
  ground: number,
  foot: number,
  palette: Palette,
  { chosen, view, rows }: SkylineScene,
  part: Part,
): void {
  const at = (time: number): number => xOf(view, time, width, gutterOf(rows));
  context.textBaseline = 'top';
  let numberEnd = -Infinity;
  const marks = trackMarks(part);
  marks.forEach(({ id, start }, i) => {
    const isChosen = chosen.has(id);
    context.fillStyle = palette.muted;
    for (const point of part.disc?.tracks.get(id)?.indexes ?? [])
      context.fillRect(at(framesToTicks(point)), ground, 1, Math.min(4, foot));
    const x = at(start);
    const room = at(marks[i + 1]?.start ?? endOf(part)) - x;
    context.fillStyle = isChosen ? palette.accent : palette.ink;
    context.fillRect(x, ground, 1, Math.min(7, foot));
    if (foot < NUMBERS) return;
    context.font = "600 13px 'Source Sans 3 Variable', sans-serif";
    const number = String(i + 1);
    const numberWidth = context.measureText(number).width;
    // With 99 tracks some numbers would touch: those are left out, the ticks stay.
    if (x + 3 < numberEnd + 4 && !isChosen) return;
    context.fillText(number, x + 4, ground + (foot < FOOT ? 3 : 6));
    numberEnd = x + 4 + numberWidth;
    if (foot < FOOT) return;
    context.font = "13px 'Source Sans 3 Variable', sans-serif";
    const title = fit(context, part.tracks[i]?.title ?? '', room - 10);
    if (title) context.fillText(title, x + 4, ground + 20);
  });
}

/** The text, shortened with an ellipsis to a width; empty when hardly anything of it would be left. */
function fit(context: CanvasRenderingContext2D, text: string, width: number): string {
  if (context.measureText(text).width <= width) return text;
  for (let length = text.length - 1; length >= 3; length--) {
    const cut = `${text.slice(0, length).trimEnd()}…`;
    if (context.measureText(cut).width <= width) return cut;
  }
  return '';
}
