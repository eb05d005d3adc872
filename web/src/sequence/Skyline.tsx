import {
  floorToFrame,
  formatClock,
  samples,
  samplesToTicks,
  secondsToTicks,
  ticks,
  ticksToSamples,
  type Part,
  type Ticks,
} from '@oiseau/core';
import { useCallback, useDeferredValue, useMemo, useState, type KeyboardEvent } from 'react';
import { Button } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { usePlayer, usePlayerState } from '../player/PlayerContext.js';
import { PLAYER_RATE } from '../player/player.js';
import { useCanvas, type Draw } from '../ui/canvas.js';
import { useWheel } from '../ui/useWheel.js';
import { useOutlines } from './Outlines.js';
import type { ChosenSongs } from './useChosenSongs.js';
import { useSkylinePointer } from './useSkylinePointer.js';
import {
  drawSkyline,
  panned,
  RIGHT,
  timeAt,
  wholeView,
  xOf,
  zoomed,
  type TrackDrag,
  type SkylineView,
} from './skyline.js';

/** What an arrow key moves the mark by. */
const STEP = secondsToTicks(5);

const CLOSER = 0.8;

/** The disc drawn to scale: a press plays from there, a track is dragged to another place, the wheel zooms. */
export function Skyline({ chosen }: { chosen: ChosenSongs }) {
  const { part } = useAlbum('part');
  const silhouettes = useOutlines();
  const player = usePlayer();
  const [zoom, setZoom] = useState<SkylineView | null>(null);
  const [drag, setDrag] = useState<TrackDrag | null>(null);
  const { ids } = chosen;
  const view = useMemo(() => zoom ?? wholeView(part), [zoom, part]);
  // The numbers of an edit are drawn first, the whole disc right after.
  const scene = useDeferredValue(
    useMemo(() => ({ part, silhouettes, chosen: ids, view }), [part, silhouettes, ids, view]),
  );
  const draw = useCallback<Draw>(
    (context, width, height, palette) => drawSkyline(context, width, height, palette, { ...scene, drag }),
    [scene, drag],
  );
  const canvas = useCanvas(draw);
  const position = usePlayerState(({ position: at }) => Math.floor(at / (PLAYER_RATE / 20)));
  const now = samplesToTicks(samples(position * (PLAYER_RATE / 20)), PLAYER_RATE);

  const show = (next: SkylineView): void =>
    setZoom(next.end - next.start >= wholeView(part).end ? null : next);
  useWheel(canvas, ({ deltaX, deltaY, shiftKey, offsetX }, width) => {
    const sideways = shiftKey ? deltaY : deltaX;
    if (sideways !== 0) show(panned(view, sideways / 1000, part));
    else show(zoomed(view, deltaY < 0 ? CLOSER : 1 / CLOSER, timeAt(view, offsetX, width), part));
  });

  const { pointing, pointer, leave } = useSkylinePointer(canvas, view, chosen, setDrag);
  const key = (event: KeyboardEvent): void => {
    const closer = { '+': CLOSER, '-': 1 / CLOSER }[event.key];
    if (closer) show(zoomed(view, closer, now, part));
    const target = keyTarget(event.key, now, part);
    if (target === undefined) return;
    event.preventDefault();
    player.seek(ticksToSamples(target, PLAYER_RATE));
  };
  const end = floorToFrame(wholeView(part).end);
  const hovered = pointer && timeAt(view, pointer.x, pointer.width);
  return (
    <div
      className="skyline"
      role="slider"
      tabIndex={0}
      aria-label="Skyline: position on the disc"
      aria-valuemin={0}
      aria-valuemax={end}
      aria-valuenow={Math.min(end, floorToFrame(now))}
      aria-valuetext={formatClock(now)}
      {...pointing}
      onPointerLeave={leave}
      onKeyDown={key}
    >
      <div className="skyline-picture">
        <canvas ref={canvas} aria-hidden />
        <PlayMark view={view} now={now} />
        {pointer && hovered !== null && (
          <span
            className="skyline-time"
            style={{ left: Math.max(0, Math.min(pointer.x, pointer.width - 60)) }}
          >
            {formatClock(hovered, 1)}
          </span>
        )}
      </div>
      {zoom && (
        <Button
          size="sm"
          variant="outline-primary"
          className="skyline-whole"
          onPointerDown={(event) => event.stopPropagation()}
          onClick={() => setZoom(null)}
        >
          The whole {part.kind}
        </Button>
      )}
    </div>
  );
}

function keyTarget(key: string, now: Ticks, part: Part): Ticks | undefined {
  const { end } = wholeView(part);
  switch (key) {
    case 'ArrowLeft':
      return ticks(Math.max(0, now - STEP));
    case 'ArrowRight':
      return ticks(Math.min(end, now + STEP));
    case 'Home':
      return ticks(0);
    case 'End':
      return end;
    default:
      return undefined;
  }
}

/** Where it plays: a line over the Skyline, placed by the width that the canvas has. */
function PlayMark({ view, now }: { view: SkylineView; now: Ticks }) {
  const share = xOf(view, now, 1 + RIGHT);
  if (share < 0 || share > 1) return null;
  return <span className="play-mark" style={{ left: `calc((100% - ${RIGHT}px) * ${share})` }} aria-hidden />;
}
