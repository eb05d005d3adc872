import {
  fadeGain,
  formatClock,
  formatMsf,
  floorToFrame,
  ticks,
  ticksToSeconds,
  TICKS_PER_SECOND,
  type Ticks,
} from '@oiseau/core';
import type { Palette } from '../../ui/canvas.js';
import { heightOf } from '../../ui/silhouette-drawing.js';
import { handlePlaces, type Handle } from './bench-handles.js';
import type { BenchScene, BenchVoice } from './bench-scene.js';
import { axisOf, RULER, timeAt, xOf, type BenchView } from './bench-view.js';

interface Surface {
  readonly context: CanvasRenderingContext2D;
  readonly width: number;
  readonly height: number;
  readonly palette: Palette;
  readonly view: BenchView;
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
  view: BenchView,
  held: Handle | null,
): void {
  const surface = { context, width, height, palette, view };
  context.clearRect(0, 0, width, height);
  const axis = axisOf(height);
  if (scene.before) drawVoice(surface, scene.before, -1);
  drawVoice(surface, scene.after, 1);
  context.fillStyle = palette.ink;
  context.fillRect(0, axis, width, 1);
  drawMarks(surface, scene);
  drawRuler(surface);
  drawHandles(surface, scene, held);
}

/** @param side −1: above the line, 1: below it */
function drawVoice(surface: Surface, voice: BenchVoice, side: -1 | 1): void {
  const { context, width, height, palette, view } = surface;
  const axis = axisOf(height);
  const room = axis - 2;
  const { track, audioStart, audioEnd, out } = voice;
  const inside = (time: number): boolean => time >= audioStart && time < audioEnd;
  for (let column = 0; column < width; column++) {
    const from = timeAt(column, view, width);
    const until = timeAt(column + 1, view, width);
    const inMaster = from - audioStart + track.in;
    if (inMaster + (until - from) <= 0 || inMaster >= voice.masterLength) continue;
    const level = voice.gain * voice.level(ticks(inMaster), ticks(inMaster + until - from));
    const raw = room * heightOf(level);
    context.fillStyle = palette.rule;
    context.fillRect(column, side < 0 ? axis - raw : axis, 1, raw);
    if (!inside((from + until) / 2)) continue;
    const shaped = room * heightOf(level * gainAt(voice, (from + until) / 2 - audioStart, out - track.in));
    context.fillStyle = palette.ink;
    context.fillRect(column, side < 0 ? axis - shaped : axis, 1, shaped);
  }
  drawFades(surface, voice, side);
}

/** Gain of both fades at a time after the start of the track's audio. */
function gainAt({ track: { fadeIn, fadeOut } }: BenchVoice, time: number, length: number): number {
  const share = (of: number): number => Math.max(0, Math.min(1, of));
  const inwards = fadeIn.length > 0 ? fadeGain(fadeIn.shape, share(time / fadeIn.length)) : 1;
  const outwards = fadeOut.length > 0 ? fadeGain(fadeOut.shape, share((length - time) / fadeOut.length)) : 1;
  return inwards * outwards;
}

/** The curves of the fades, over the audio that they shape. */
function drawFades(
  { context, width, height, palette, view }: Surface,
  voice: BenchVoice,
  side: -1 | 1,
): void {
  const axis = axisOf(height);
  const room = axis - 2;
  const { track, audioStart, audioEnd } = voice;
  context.strokeStyle = palette.accent;
  context.lineWidth = 1.5;
  for (const [direction, from, fade] of [
    ['in', audioStart, track.fadeIn],
    ['out', audioEnd - track.fadeOut.length, track.fadeOut],
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

function drawMarks(
  { context, width, height, palette, view }: Surface,
  { startMark, pause }: BenchScene,
): void {
  const axis = axisOf(height);
  context.font = `12px 'Source Sans 3 Variable', sans-serif`;
  context.textBaseline = 'bottom';
  const line = (time: Ticks, words: string, row: number): void => {
    const x = Math.round(xOf(time, view, width));
    if (x < 0 || x > width) return;
    context.fillStyle = palette.muted;
    for (let y = 0; y < height - RULER; y += 5) context.fillRect(x, y, 1, 3);
    const textWidth = context.measureText(words).width;
    const start = Math.max(2, Math.min(width - textWidth - 4, x + 3));
    context.fillStyle = palette.paper;
    context.fillRect(start, axis - 17 - row * 15, textWidth + 4, 15);
    context.fillStyle = palette.muted;
    context.fillText(words, start + 2, axis - 3 - row * 15);
  };
  line(startMark, `start mark ${formatMsf(floorToFrame(startMark))}`, 0);
  if (pause !== null) line(pause, `pause ${formatMsf(floorToFrame(pause))}`, 1);
}

const RULER_STEPS_S = [0.0005, 0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10];

function drawRuler({ context, width, height, palette, view }: Surface): void {
  const seconds = ticksToSeconds(ticks(view.until - view.from));
  const step = RULER_STEPS_S.find((each) => seconds / each <= 8) ?? 20;
  const decimals = Math.max(0, Math.ceil(-Math.log10(step) - 1e-9));
  context.font = `12px 'Source Sans 3 Variable', sans-serif`;
  context.textBaseline = 'bottom';
  context.fillStyle = palette.muted;
  for (let n = Math.ceil(ticksToSeconds(view.from) / step); n * step * TICKS_PER_SECOND < view.until; n++) {
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
    else context.rect(x - size, y - size, 2 * size, 2 * size);
    context.fill();
    context.strokeStyle = palette.paper;
    context.stroke();
  }
}
