import { beatLength, beatsBetween, beginsBar } from '@oiseau/album/model';
import { dbToLinear, fadeGain, linearToDb } from '@oiseau/audio/dsp';
import {
  formatClock,
  formatMsf,
  floorToFrame,
  ticks,
  ticksToSeconds,
  TICKS_PER_SECOND,
  type Ticks,
} from '@oiseau/audio/time';
import type { Palette } from '../../ui/canvas.js';
import { heightOf } from '../../ui/silhouette-drawing.js';
import { handlePlaces, MARK_Y, PAUSE_Y, type Handle } from './bench-handles.js';
import { originOf, type BenchScene, type BenchVoice } from './bench-scene.js';
import type { Caught } from './bench-snap.js';
import { axisOf, levelLines, RULER, timeAt, xOf, type BenchView } from './bench-view.js';
import { t } from '../../ui/messages.js';

interface Surface {
  readonly context: CanvasRenderingContext2D;
  readonly width: number;
  readonly height: number;
  readonly palette: Palette;
  readonly view: BenchView;
  /** Level at the outer edges, dBFS. */
  readonly top: number;
}

/**
 * The transition: the song that ends stands on the line, the one that begins hangs below it, on one time axis, so that an
 * overlap hides nothing. What a trim leaves out stays to be seen, pale.
 */
export function drawBench(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  palette: Palette,
  scene: BenchScene,
  { view, top }: { readonly view: BenchView; readonly top: number },
  held: Handle | null,
  caught: Caught | null,
): void {
  const surface = { context, width, height, palette, view, top };
  context.clearRect(0, 0, width, height);
  const axis = axisOf(height);
  if (scene.before) drawVoice(surface, scene.before, -1);
  drawVoice(surface, scene.after, 1);
  drawLevels(surface);
  context.fillStyle = palette.ink;
  context.fillRect(0, axis, width, 1);
  drawBeats(surface, scene);
  if (top < 0) drawEnds(surface, scene);
  drawMarks(surface, scene);
  drawRuler(surface);
  drawHandles(surface, scene, held);
  if (caught) drawCaught(surface, caught);
}

/** @param side −1: above the line, 1: below it */
function drawVoice(surface: Surface, voice: BenchVoice, side: -1 | 1): void {
  const { context, width, height, palette, view, top } = surface;
  const axis = axisOf(height);
  const room = axis - 2;
  const full = dbToLinear(top);
  const { song, start, end, out } = voice;
  const { in: inPoint } = song.region;
  const inside = (time: number): boolean => time >= start && time < end;
  for (let column = 0; column < width; column++) {
    const from = timeAt(column, view, width);
    const until = timeAt(column + 1, view, width);
    const inMaster = from - start + inPoint;
    if (inMaster + (until - from) <= 0 || inMaster >= voice.masterLength) continue;
    const level = (voice.gain / full) * voice.level(ticks(inMaster), ticks(inMaster + until - from));
    const raw = room * heightOf(level);
    context.fillStyle = palette.rule;
    context.fillRect(column, side < 0 ? axis - raw : axis, 1, raw);
    if (!inside((from + until) / 2)) continue;
    const shaped = room * heightOf(level * gainAt(voice, (from + until) / 2 - start, out - inPoint));
    context.fillStyle = palette.ink;
    context.fillRect(column, side < 0 ? axis - shaped : axis, 1, shaped);
  }
  drawFades(surface, voice, side);
}

/** Gain of both fades at a time after the start of the track's audio. */
function gainAt({ song }: BenchVoice, time: number, length: number): number {
  const { fadeIn, fadeOut } = song.region;
  const share = (of: number): number => Math.max(0, Math.min(1, of));
  const inwards = fadeIn.length > 0 ? fadeGain(fadeIn.shape, share(time / fadeIn.length)) : 1;
  const outwards = fadeOut.length > 0 ? fadeGain(fadeOut.shape, share((length - time) / fadeOut.length)) : 1;
  return inwards * outwards;
}

/** Lines of level on both sides of the axis, told at the right, so that quiet sound can be read. */
function drawLevels({ context, width, height, palette, top }: Surface): void {
  const axis = axisOf(height);
  const room = axis - 2;
  context.font = "12px 'Source Sans 3 Variable', sans-serif";
  context.textBaseline = 'middle';
  for (const level of levelLines(top)) {
    const y = Math.round(room * heightOf(dbToLinear(level - top)));
    const words = `${level}`.replace('-', '−');
    const left = width - context.measureText(words).width - 4;
    for (const at of [axis - y, axis + y]) {
      context.fillStyle = palette.muted;
      context.globalAlpha = 0.35;
      context.fillRect(0, at, left - 4, 1);
      context.globalAlpha = 1;
      context.fillStyle = palette.paper;
      context.fillRect(left - 3, at - 7, width - left + 3, 14);
      context.fillStyle = palette.muted;
      context.fillText(words, left, at);
    }
  }
}

/** Where the one falls under a level for good, and where the other rises over it: what the page of a master knows of its tail and its head. */
function drawEnds(surface: Surface, { before, after }: BenchScene): void {
  const mark = (voice: BenchVoice, which: 'start' | 'end', side: -1 | 1): void => {
    const { context, width, height, palette, view, top } = surface;
    const axis = axisOf(height);
    for (const edge of voice.edges) {
      const level = edge.levelDb + linearToDb(voice.gain);
      if (level > top) continue;
      const x = Math.round(xOf(originOf(voice) + edge[which], view, width));
      if (x < 0 || x > width) continue;
      const y = axis + side * (axis - 2) * heightOf(dbToLinear(level - top));
      context.fillStyle = palette.doubt;
      context.fillRect(x, Math.min(axis, y), 2, Math.abs(y - axis));
      const threshold = level.toFixed(0).replace('-', '−');
      const words =
        which === 'end'
          ? t('last over {threshold} dBFS', { threshold })
          : t('first over {threshold} dBFS', { threshold });
      const bottom = Math.max(LABEL, Math.min(height - RULER - 2, y + (side < 0 ? 2 : 13)));
      drawLabel(surface, x, bottom, words, palette.doubt);
    }
  };
  if (before) mark(before, 'end', -1);
  mark(after, 'start', 1);
}

/** The curves of the fades, over the audio that they shape. */
function drawFades(
  { context, width, height, palette, view }: Surface,
  voice: BenchVoice,
  side: -1 | 1,
): void {
  const axis = axisOf(height);
  const room = axis - 2;
  const { song, start, end } = voice;
  const { fadeIn, fadeOut } = song.region;
  context.strokeStyle = palette.accent;
  context.lineWidth = 1.5;
  for (const [direction, from, fade] of [
    ['in', start, fadeIn],
    ['out', end - fadeOut.length, fadeOut],
  ] as const) {
    if (fade.length === 0) continue;
    context.beginPath();
    for (let step = 0; step <= 40; step++) {
      const x = step / 40;
      const gain = fadeGain(fade.shape, direction === 'in' ? x : 1 - x);
      context.lineTo(xOf(from + x * fade.length, view, width), axis + side * room * gain);
    }
    context.stroke();
  }
  context.lineWidth = 1;
}

/** Least room between two beats, and between two numbers of bars, in pixels. */
const BEAT_ROOM = 5;
const BAR_ROOM = 26;

/** The ruler of beats: on the line while the song sounds, and on past its end, where bars are counted. */
function drawBeats({ context, width, height, palette, view }: Surface, { before }: BenchScene): void {
  const tempo = before?.song.marks.tempo;
  if (!tempo) return;
  const beatPx = (beatLength(tempo) / (view.end - view.start)) * width;
  const axis = axisOf(height);
  const beats = beatsBetween(tempo, originOf(before), view.start, view.end);
  const firstBar = beatsBetween(tempo, originOf(before), before.end, view.end).find((beat) =>
    beginsBar(beat, tempo),
  );
  context.font = "600 12px 'Source Sans 3 Variable', sans-serif";
  context.textBaseline = 'bottom';
  for (const beat of beats) {
    const bar = beginsBar(beat, tempo);
    if (bar ? beatPx * tempo.bar < BEAT_ROOM : beatPx < BEAT_ROOM) continue;
    const x = Math.round(xOf(beat.time, view, width));
    const past = beat.time >= before.end;
    context.fillStyle = past ? palette.accent : palette.doubt;
    const length = bar ? 18 : 8;
    context.fillRect(x, axis - length, 1, length);
    if (!past) continue;
    // Past the end there is nothing to hide: the beats are lines that the next song can be held against.
    context.globalAlpha = bar ? 0.5 : 0.22;
    context.fillRect(x, 0, 1, height - RULER);
    context.globalAlpha = 1;
    if (!bar || beatPx * tempo.bar < BAR_ROOM || !firstBar) continue;
    context.fillText(`${(beat.number - firstBar.number) / tempo.bar + 1}`, x + 3, axis - 3);
  }
}

/** What caught the drag: a line there, and the reason. */
function drawCaught(surface: Surface, { at, words }: Caught): void {
  const { context, width, height, palette, view } = surface;
  const x = Math.round(xOf(at, view, width));
  context.fillStyle = palette.accent;
  for (let y = 0; y < height - RULER; y += 4) context.fillRect(x, y, 1, 2);
  drawLabel(surface, x, height - RULER - 4, words, palette.accent);
}

/** Height of a label. */
const LABEL = 15;

/** Words beside a line, on paper so that they can be read over audio; `y` is their bottom. */
function drawLabel(
  { context, width, palette }: Surface,
  x: number,
  y: number,
  words: string,
  colour: string,
): void {
  context.font = "12px 'Source Sans 3 Variable', sans-serif";
  context.textBaseline = 'bottom';
  const textWidth = context.measureText(words).width;
  const fits = x + textWidth + 12 <= width;
  const start = fits ? x + 7 : Math.max(2, x - textWidth - 11);
  context.fillStyle = palette.paper;
  context.fillRect(start, y - LABEL, textWidth + 4, LABEL);
  context.fillStyle = colour;
  context.fillText(words, start + 2, y);
}

function drawMarks(surface: Surface, { startMark, pause, indexes }: BenchScene): void {
  const { context, width, height, palette, view } = surface;
  const line = (time: Ticks, words: string, y: number): void => {
    const x = Math.round(xOf(time, view, width));
    if (x < 0 || x > width) return;
    context.fillStyle = palette.muted;
    for (let dash = 0; dash < height - RULER; dash += 5) context.fillRect(x, dash, 1, 3);
    drawLabel(surface, x, y + 8, words, palette.muted);
  };
  if (pause !== null) line(pause, t('pause {at}', { at: formatMsf(floorToFrame(pause)) }), PAUSE_Y);
  line(startMark, t('start mark {at}', { at: formatMsf(floorToFrame(startMark)) }), MARK_Y);
  indexes.forEach((time, i) =>
    line(time, t('index {number}', { number: String(i + 2).padStart(2, '0') }), PAUSE_Y),
  );
}

const RULER_STEPS_S = [0.0005, 0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10];

function drawRuler({ context, width, height, palette, view }: Surface): void {
  const seconds = ticksToSeconds(ticks(view.end - view.start));
  const step = RULER_STEPS_S.find((each) => seconds / each <= 8) ?? 20;
  const decimals = Math.max(0, Math.ceil(-Math.log10(step) - 1e-9));
  context.font = "12px 'Source Sans 3 Variable', sans-serif";
  context.textBaseline = 'bottom';
  context.fillStyle = palette.muted;
  for (let n = Math.ceil(ticksToSeconds(view.start) / step); n * step * TICKS_PER_SECOND < view.end; n++) {
    if (n < 0) continue;
    const x = xOf(n * step * TICKS_PER_SECOND, view, width);
    context.fillRect(Math.round(x), height - RULER, 1, 4);
    context.fillText(formatClock(ticks(Math.round(n * step * TICKS_PER_SECOND)), decimals), x + 3, height);
  }
}

function drawHandles(
  { context, width, height, palette, view }: Surface,
  scene: BenchScene,
  held: Handle | null,
): void {
  for (const { handle, x, y, edge } of handlePlaces(scene, view, width, height)) {
    if (x < -8 || x > width + 8) continue;
    context.fillStyle = palette.accent;
    if (edge) context.fillRect(Math.round(x) - 1, Math.min(edge[0], edge[1]), 2, Math.abs(edge[1] - edge[0]));
    const size = handle === held ? 7 : 5;
    context.beginPath();
    if (handle === 'fadeIn' || handle === 'fadeOut') context.arc(x, y, size, 0, 2 * Math.PI);
    else if (handle === 'mark' || handle === 'pause') flag(context, x, y, size);
    else context.rect(x - size, y - size, 2 * size, 2 * size);
    context.fill();
    context.strokeStyle = palette.paper;
    context.stroke();
  }
}

/** A small flag whose pole is the line of the mark. */
function flag(context: CanvasRenderingContext2D, x: number, y: number, size: number): void {
  context.moveTo(x, y - size);
  context.lineTo(x + 1.4 * size, y);
  context.lineTo(x, y + size);
  context.closePath();
}
