import {
  floorToFrame,
  samples,
  samplesToTicks,
  secondsToTicks,
  ticks,
  ticksToSamples,
  type Ticks,
} from '@oiseau/audio/time';
import { partName } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { useCallback, useDeferredValue, useLayoutEffect, useMemo, useState, type KeyboardEvent } from 'react';
import { Button } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { useHeardPart, usePlayer, usePlayerState } from '../album/PlayerContext.js';
import { PLAYER_RATE } from '../player/player.js';
import { useCanvas, type Draw } from '../ui/canvas.js';
import { useWindowHeight } from '../ui/useWindowHeight.js';
import { useWheel } from '../ui/useWheel.js';
import { useOutlines } from './Outlines.js';
import type { ChosenSongs } from './useChosenSongs.js';
import { useSkylinePointer } from './useSkylinePointer.js';
import {
  drawSkyline,
  endOf,
  gutterOf,
  heightOf,
  panned,
  RIGHT,
  roomIn,
  rowsOf,
  timeAt,
  wholeView,
  xOf,
  zoomed,
  type SkylineRow,
  type TrackDrag,
  type SkylineView,
} from './skyline.js';
import { say, t } from '../ui/messages.js';
import { clockText } from '../ui/format.js';

/** What an arrow key moves the mark by. */
const STEP = secondsToTicks(5);

const CLOSER = 0.8;

/** The disc drawn to scale: a press plays from there, a track is dragged to another place, the wheel zooms. */
export function Skyline({ chosen }: { chosen: ChosenSongs }) {
  const { parts, part } = useAlbum('parts', 'part');
  const silhouettes = useOutlines();
  const player = usePlayer();
  const heard = useHeardPart();
  const [zoom, setZoom] = useState<SkylineView | null>(null);
  const [drag, setDrag] = useState<TrackDrag | null>(null);
  const { ids } = chosen;
  const whole = useMemo(() => wholeView(parts), [parts]);
  const view = zoom ?? whole;
  const inHand = part.number;
  const room = roomIn(useWindowHeight());
  const rows = useMemo(() => rowsOf(parts, inHand, room), [parts, inHand, room]);
  const height = heightOf(rows);
  useLayoutEffect(() => {
    // What sticks below the Skyline has to know how high that is.
    document.documentElement.style.setProperty('--skyline-height', `${height}px`);
  }, [height]);
  const left = gutterOf(rows);
  // The numbers of an edit are drawn first, the whole disc right after.
  const scene = useDeferredValue(
    useMemo(() => ({ rows, inHand, silhouettes, chosen: ids, view }), [rows, inHand, silhouettes, ids, view]),
  );
  const draw = useCallback<Draw>(
    (context, width, height, palette) => drawSkyline(context, width, height, palette, { ...scene, drag }),
    [scene, drag],
  );
  const canvas = useCanvas(draw);
  const position = usePlayerState(({ position: at }) => Math.floor(at / (PLAYER_RATE / 20)));
  const now = samplesToTicks(samples(position * (PLAYER_RATE / 20)), PLAYER_RATE);

  const show = (next: SkylineView): void => setZoom(next.end - next.start >= whole.end ? null : next);
  useWheel(canvas, ({ deltaX, deltaY, shiftKey, offsetX }, width) => {
    const sideways = shiftKey ? deltaY : deltaX;
    if (sideways !== 0) show(panned(view, sideways / 1000, whole));
    else show(zoomed(view, deltaY < 0 ? CLOSER : 1 / CLOSER, timeAt(view, offsetX, width, left), whole));
  });

  const { pointing, pointer, leave } = useSkylinePointer({ canvas, view, rows, chosen, onDrag: setDrag });
  const key = (event: KeyboardEvent): void => {
    const closer = { '+': CLOSER, '-': 1 / CLOSER }[event.key];
    if (closer) show(zoomed(view, closer, now, whole));
    const target = keyTarget(event.key, now, heard);
    if (target === undefined) return;
    event.preventDefault();
    player.seek(ticksToSamples(target, PLAYER_RATE));
  };
  const end = floorToFrame(endOf(heard));
  const row = rows.find(({ part: of }) => of.number === heard.number);
  return (
    <div
      className="skyline"
      role="slider"
      tabIndex={0}
      aria-label={t('Skyline: position on {part}', {
        part: rows.length > 1 ? say(partName(heard)) : heard.kind === 'disc' ? t('the disc') : t('the side'),
      })}
      aria-valuemin={0}
      aria-valuemax={end}
      aria-valuenow={Math.min(end, floorToFrame(now))}
      aria-valuetext={clockText(now)}
      {...pointing}
      onPointerLeave={leave}
      onKeyDown={key}
    >
      <div className="skyline-picture">
        <canvas ref={canvas} aria-hidden style={{ height }} />
        {row && <PlayMark view={view} now={now} left={left} row={row} />}
        {pointer && <PointedTime pointer={pointer} time={timeAt(view, pointer.x, pointer.width, left)} />}
      </div>
      {zoom && (
        <WholeButton onWhole={() => setZoom(null)}>
          {rows.length > 1
            ? t('Show all')
            : part.kind === 'disc'
              ? t('Show the whole disc')
              : t('Show the whole side')}
        </WholeButton>
      )}
    </div>
  );
}

/** The time under the pointer, at the row that it points to. */
function PointedTime({
  pointer: { x, width, row },
  time,
}: {
  readonly pointer: NonNullable<ReturnType<typeof useSkylinePointer>['pointer']>;
  readonly time: Ticks | null;
}) {
  if (time === null) return null;
  return (
    <span
      className="skyline-time"
      style={{ left: Math.max(0, Math.min(x, width - 60)), ...(row.top > 0 && { top: row.top }) }}
    >
      {clockText(time, 1)}
    </span>
  );
}

/** The way back from a part of the picture to all of it. */
function WholeButton({ onWhole, children }: { readonly onWhole: () => void; readonly children: string }) {
  return (
    <Button
      size="sm"
      variant="outline-primary"
      className="skyline-whole"
      onPointerDown={(event) => event.stopPropagation()}
      onClick={onWhole}
    >
      {children}
    </Button>
  );
}

function keyTarget(key: string, now: Ticks, part: Part): Ticks | undefined {
  const end = endOf(part);
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
function PlayMark({
  view,
  now,
  left,
  row: { top, height, foot },
}: {
  view: SkylineView;
  now: Ticks;
  left: number;
  row: SkylineRow;
}) {
  const share = xOf(view, now, 1 + RIGHT);
  if (share < 0 || share > 1) return null;
  const place = `calc(${left}px + (100% - ${left + RIGHT}px) * ${share})`;
  return <span className="play-mark" style={{ left: place, top, height: height - foot }} aria-hidden />;
}
