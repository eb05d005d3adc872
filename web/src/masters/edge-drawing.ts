import { linearToDb } from '@oiseau/audio/dsp';
import type { Palette } from '../ui/canvas.js';

/** Bottom of the level scale in dBFS: below it sound is inaudible. */
const FLOOR_DB = -96;
/** Levels at which a line is drawn, in dBFS. */
export const GUIDES_DB = [-20, -40, -60, -72, -90] as const;

/** Share of the height for a level: decibels, so that a reverb tail is seen down to its end. */
export function levelHeight(linear: number): number {
  if (linear <= 0) return 0;
  return Math.max(0, Math.min(1, 1 - linearToDb(linear) / FLOOR_DB));
}

export interface EdgeScene {
  readonly left: Float64Array;
  readonly right: Float64Array;
  /** Sample of the master at the left edge of the picture, and how many fit across. */
  readonly from: number;
  readonly count: number;
  /** Sample of the master that the audio begins with. */
  readonly audioFrom: number;
  /** Samples at which the sound starts or ends at each level. */
  readonly marks: readonly { readonly at: number; readonly label: string }[];
  /** Length of the master. */
  readonly length: number;
  /** Side on which the levels are written: the one where the sound is not. */
  readonly labels: 'left' | 'right';
}

/** The head or the tail of a master: levels over a ground line, or the single samples when few enough are in sight. */
export function drawEdge(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  palette: Palette,
  scene: EdgeScene,
): void {
  context.clearRect(0, 0, width, height);
  const x = (sample: number): number => ((sample - scene.from) / scene.count) * width;
  shadeOutside(context, x, width, height, palette, scene);
  if (scene.count > width / 2) drawLevels(context, width, height, palette, scene);
  else drawSamples(context, x, width, height, palette, scene);
  drawMarks(context, x, width, height, palette, scene);
}

function shadeOutside(
  context: CanvasRenderingContext2D,
  x: (sample: number) => number,
  width: number,
  height: number,
  { rule }: Palette,
  { length }: EdgeScene,
): void {
  context.fillStyle = rule;
  context.globalAlpha = 0.5;
  const start = Math.min(width, Math.max(0, x(0)));
  const end = Math.min(width, Math.max(0, x(length)));
  context.fillRect(0, 0, start, height);
  context.fillRect(end, 0, width - end, height);
  context.globalAlpha = 1;
}

function drawLevels(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  { ink, rule, muted }: Palette,
  { left, right, from, count, audioFrom, labels }: EdgeScene,
): void {
  context.font = "12px 'Source Sans 3 Variable', sans-serif";
  context.textBaseline = 'bottom';
  for (const db of GUIDES_DB) {
    const y = Math.round(height * (1 - levelHeight(10 ** (db / 20)))) + 0.5;
    context.fillStyle = rule;
    context.fillRect(0, y, width, 1);
    context.fillStyle = muted;
    const words = `−${-db}`;
    context.fillText(words, labels === 'left' ? 3 : width - 3 - context.measureText(words).width, y);
  }
  context.fillStyle = ink;
  for (let column = 0; column < width; column++) {
    const start = Math.floor(from + (column / width) * count) - audioFrom;
    const end = Math.max(start + 1, Math.floor(from + ((column + 1) / width) * count) - audioFrom);
    let peak = 0;
    for (let i = Math.max(0, start); i < Math.min(left.length, end); i++)
      peak = Math.max(peak, Math.abs(left[i] as number), Math.abs(right[i] as number));
    const top = height * levelHeight(peak);
    context.fillRect(column, height - top, 1, top);
  }
}

/** Both channels as lines about the middle, as large as the loudest sample in sight lets them be. */
function drawSamples(
  context: CanvasRenderingContext2D,
  x: (sample: number) => number,
  width: number,
  height: number,
  { ink, soft, rule }: Palette,
  { left, right, from, count, audioFrom }: EdgeScene,
): void {
  const first = Math.max(0, Math.floor(from) - audioFrom);
  const last = Math.min(left.length, Math.ceil(from + count) - audioFrom + 1);
  let most = 1e-9;
  for (let i = first; i < last; i++)
    most = Math.max(most, Math.abs(left[i] as number), Math.abs(right[i] as number));
  context.fillStyle = rule;
  context.fillRect(0, height / 2, width, 1);
  const dots = count < width / 5;
  for (const [audio, colour] of [
    [right, soft],
    [left, ink],
  ] as const) {
    context.strokeStyle = colour;
    context.fillStyle = colour;
    context.beginPath();
    for (let i = first; i < last; i++) {
      const y = height / 2 - ((audio[i] as number) / most) * (height / 2 - 4);
      context.lineTo(x(audioFrom + i), y);
      if (dots) context.fillRect(x(audioFrom + i) - 1.5, y - 1.5, 3, 3);
    }
    context.stroke();
  }
}

function drawMarks(
  context: CanvasRenderingContext2D,
  x: (sample: number) => number,
  width: number,
  height: number,
  { accent, paper }: Palette,
  { marks }: EdgeScene,
): void {
  context.font = "600 12px 'Source Sans 3 Variable', sans-serif";
  context.textBaseline = 'top';
  marks.forEach(({ at, label }, i) => {
    const place = Math.round(x(at));
    if (place < 0 || place > width) return;
    context.fillStyle = accent;
    context.fillRect(place, 0, 1, height);
    const textWidth = context.measureText(label).width;
    const start = place + 4 + textWidth > width ? place - 6 - textWidth : place + 2;
    context.fillStyle = paper;
    context.fillRect(start, 2 + i * 16, textWidth + 4, 15);
    context.fillStyle = accent;
    context.fillText(label, start + 2, 3 + i * 16);
  });
}
