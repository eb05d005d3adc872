import { useCallback, useMemo } from 'react';
import { useOutlines } from '../sequence/Outlines.js';
import { drawSkyline, heightOf, type SkylineRow, type SkylineView } from '../sequence/skyline.js';
import { useCanvas, type Draw } from '../ui/canvas.js';
import type { LaidOutEdition } from './useLaidOutEditions.js';

/** Height of a part, and the room under its ground line for the numbers. */
const ROW = 64;
const FOOT = 19;
const NO_CHOICE: ReadonlySet<string> = new Set();

/** One edition to the scale of all, a ground line for each of its parts. */
export function EditionSkyline({
  of: { parts },
  view,
  playing,
}: {
  readonly of: LaidOutEdition;
  readonly view: SkylineView;
  /** Tracks of the transition that plays. */
  readonly playing: ReadonlySet<string> | null;
}) {
  const silhouettes = useOutlines();
  const rows = useMemo(
    () => parts.map((part, i): SkylineRow => ({ part, top: i * ROW, height: ROW, foot: FOOT })),
    [parts],
  );
  const draw = useCallback<Draw>(
    (context, width, height, palette) =>
      drawSkyline(context, width, height, palette, {
        ...{ rows, inHand: 0, silhouettes, chosen: playing ?? NO_CHOICE, view, drag: null },
      }),
    [rows, silhouettes, playing, view],
  );
  const canvas = useCanvas(draw);
  return <canvas ref={canvas} className="edition-skyline" aria-hidden style={{ height: heightOf(rows) }} />;
}
