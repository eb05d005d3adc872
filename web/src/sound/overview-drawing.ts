import type { SoundOutline } from '@oiseau/album/measured';
import { Silhouette } from '@oiseau/audio/measure';
import { REDUCING_STAGES, valueAt, type MovingDb } from '@oiseau/audio/stages';
import type { Draw } from '../ui/canvas.js';
import { drawSilhouette } from '../ui/silhouette-drawing.js';

/** How far up and down a line reaches in the picture, dB. */
export const REACH_DB = 12;
/** So many dB of gain reduction reach down to the middle. */
const REDUCTION_REACH_DB = 12;

/** What is drawn of a song, or of the album. */
export interface Overview {
  readonly came: Silhouette | undefined;
  readonly treated: SoundOutline | undefined;
  /** The value whose automation is shown. */
  readonly automation: MovingDb | undefined;
  /** The stretch that is shown, s. */
  readonly from: number;
  readonly to: number;
  /** The loudest passage, s. */
  readonly moment: readonly [number, number] | null;
}

/** The song as it came and as it is now, its automation, and gain reduction hanging from the top. */
export function drawOverview(overview: Overview): Draw {
  return (context, width, height, palette) => {
    context.clearRect(0, 0, width, height);
    drawOutlines(context, width, height, palette, overview);
    const { moment, from, to } = overview;
    const x = (at: number): number => (width * (at - from)) / Math.max(1e-9, to - from);
    if (moment) {
      context.fillStyle = palette.accent;
      context.fillRect(x(moment[0]), height - 5, x(moment[1]) - x(moment[0]), 4);
    }
    drawReductions(context, width, height, palette, overview);
    drawAutomation(context, width, height, palette, overview);
  };
}

type DrawPart = (...given: [...Parameters<Draw>, Overview]) => void;

const drawOutlines: DrawPart = (context, width, height, { soft, ink }, { came, treated, from, to }) => {
  const stretch = { x: 0, width, ground: height - 1, height: height - 4, from: 75 * from, to: 75 * to };
  if (came) {
    context.fillStyle = soft;
    drawSilhouette(context, came, stretch, treated ? 'rms' : 'peak');
  }
  const now = treated ? new Silhouette(treated.silhouette) : came;
  if (!now) return;
  context.fillStyle = ink;
  context.globalAlpha = 0.75;
  drawSilhouette(context, now, stretch, 'rms');
  context.globalAlpha = 1;
};

/** Of each column the most. */
const drawReductions: DrawPart = (context, width, height, { doubt, danger }, { treated, from, to }) => {
  if (!treated) return;
  const colours = [doubt, danger];
  const step = (75 * (to - from)) / width;
  for (const offset of REDUCING_STAGES.keys()) {
    context.fillStyle = colours[offset % colours.length] ?? doubt;
    for (let column = 0; column < width; column++) {
      let most = 0;
      const first = Math.floor(75 * from + column * step);
      const last = Math.max(first + 1, Math.floor(75 * from + (column + 1) * step));
      for (let i = first; i < last; i++)
        most = Math.max(most, treated.reductions[REDUCING_STAGES.length * i + offset] ?? 0);
      if (most > 0) context.fillRect(column, 0, 1, (most / 10 / REDUCTION_REACH_DB) * (height / 2));
    }
  }
};

const drawAutomation: DrawPart = (context, width, height, { rule, accent }, { automation, from, to }) => {
  if (automation === undefined) return;
  const y = (db: number): number => (height * (REACH_DB - db)) / (2 * REACH_DB);
  context.fillStyle = rule;
  context.fillRect(0, Math.round(height / 2), width, 1);
  const value = valueAt(automation, 1000);
  context.strokeStyle = accent;
  context.lineWidth = 2;
  context.beginPath();
  for (let column = 0; column <= width; column += 2)
    context.lineTo(column, y(value(1000 * (from + (column / width) * (to - from)))));
  context.stroke();
};
