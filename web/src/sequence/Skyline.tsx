import {
  floorToFrame,
  formatClock,
  framesToTicks,
  samples,
  samplesToTicks,
  secondsToTicks,
  ticks,
  ticksToSamples,
  type Layout,
  type Ticks,
} from '@oiseau/core';
import { useCallback, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { useSilhouettes } from '../api/queries.js';
import { usePlayer, usePlayerState } from '../player/PlayerContext.js';
import { PLAYER_RATE } from '../player/player.js';
import { trackAt } from '../player/track-at.js';
import { useCanvas, type Draw } from '../ui/canvas.js';
import { drawSkyline, RIGHT, timeAt, xOf } from './skyline.js';

/** What an arrow key moves the mark by. */
const STEP = secondsToTicks(5);

/** The whole disc drawn to scale; a press plays from there. */
export function Skyline({ chosen, onChoose }: { chosen: number | null; onChoose: (track: number) => void }) {
  const { album, layout, masters } = useAlbum();
  const player = usePlayer();
  const silhouettes = useSilhouettes(masters);
  const [pointer, setPointer] = useState<{ x: number; width: number } | null>(null);
  const draw = useCallback<Draw>(
    (context, width, height, palette) =>
      drawSkyline(context, width, height, palette, { album, layout, silhouettes, chosen }),
    [album, layout, silhouettes, chosen],
  );
  const canvas = useCanvas(draw);
  const position = usePlayerState(({ position: at }) => Math.floor(at / (PLAYER_RATE / 20)));
  const now = samplesToTicks(samples(position * (PLAYER_RATE / 20)), PLAYER_RATE);

  const place = (event: PointerEvent): { x: number; width: number } => {
    const box = event.currentTarget.getBoundingClientRect();
    return { x: event.clientX - box.left, width: box.width };
  };
  const press = (event: PointerEvent): void => {
    if (event.button !== 0) return;
    const { x, width } = place(event);
    const time = timeAt(layout, x, width);
    const track = trackAt(layout, time);
    if (track !== null) onChoose(track);
    void player.play(ticksToSamples(time, PLAYER_RATE));
  };
  const key = (event: KeyboardEvent): void => {
    const target = keyTarget(event.key, now, layout);
    if (target === undefined) return;
    event.preventDefault();
    player.seek(ticksToSamples(target, PLAYER_RATE));
  };
  const hovered = pointer && timeAt(layout, pointer.x, pointer.width);
  return (
    <div
      className="skyline"
      role="slider"
      tabIndex={0}
      aria-label="Skyline: position on the disc"
      aria-valuemin={0}
      aria-valuemax={layout.leadOut}
      aria-valuenow={Math.min(layout.leadOut, floorToFrame(now))}
      aria-valuetext={formatClock(now)}
      onPointerDown={press}
      onPointerMove={(event) => setPointer(place(event))}
      onPointerLeave={() => setPointer(null)}
      onKeyDown={key}
    >
      <canvas ref={canvas} aria-hidden />
      <PlayMark layout={layout} now={now} />
      {pointer && hovered !== null && (
        <span className="skyline-time" style={{ left: Math.min(pointer.x, pointer.width - 60) }}>
          {formatClock(hovered, 1)}
        </span>
      )}
    </div>
  );
}

function keyTarget(key: string, now: Ticks, layout: Layout): Ticks | undefined {
  const end = framesToTicks(layout.leadOut);
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
function PlayMark({ layout, now }: { layout: Layout; now: Ticks }) {
  const share = xOf(layout, now, 1 + RIGHT);
  return <span className="play-mark" style={{ left: `calc((100% - ${RIGHT}px) * ${share})` }} aria-hidden />;
}
