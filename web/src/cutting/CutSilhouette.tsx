import { moveCut, pieceAt, type Cutting, type Silhouette } from '@oiseau/core';
import { useCallback, useEffect, useRef, type PointerEvent } from 'react';
import { PLAYER_RATE } from '../player/player.js';
import { usePlayerState } from '../player/PlayerContext.js';
import { useCanvas, type Draw } from '../ui/canvas.js';
import { DRAG_AFTER_PX } from '../ui/drag.js';
import { useWheel } from '../ui/useWheel.js';
import { cutUnder, drawCuts, sampleAt, xOf, type CutScene, type CutView } from './cut-drawing.js';

interface Drag {
  readonly index: number;
  readonly startX: number;
  readonly before: Cutting;
  moved: boolean;
}

interface CutSilhouetteProps {
  readonly label: string;
  readonly rate: number;
  readonly outline: Silhouette | undefined;
  readonly cutting: Cutting;
  readonly preview: Cutting | null;
  readonly chosen: number;
  readonly view: CutView;
  readonly className: string;
  /** `merge` goes on with the drag under way. */
  readonly onChange: (cutting: Cutting, merge: boolean) => void;
  readonly onChoose: (piece: number) => void;
  readonly onPlay: (sample: number) => void;
  readonly onZoom: (steps: number, around: number) => void;
}

/** The recording with its cuts: a press plays from there, a cut is dragged, the wheel zooms. */
export function CutSilhouette(props: CutSilhouetteProps) {
  const {
    label,
    rate,
    outline,
    cutting,
    preview,
    chosen,
    view,
    className,
    onChange,
    onChoose,
    onPlay,
    onZoom,
  } = props;
  const drag = useRef<Drag | null>(null);
  const draw = useCallback<Draw>(
    (context, width, height, palette) => {
      const scene: CutScene = { outline, bucket: rate / 75, cutting, preview, chosen, view };
      drawCuts(context, width, height, palette, scene);
    },
    [outline, rate, cutting, preview, chosen, view],
  );
  const canvas = useCanvas(draw);
  useWheel(canvas, ({ deltaY, offsetX }, width) =>
    onZoom(deltaY < 0 ? 1 : -1, sampleAt(offsetX, view, width)),
  );
  // Escape takes a drag back.
  useEffect(() => {
    const escape = (event: KeyboardEvent): void => {
      if (event.key !== 'Escape' || !drag.current) return;
      if (drag.current.moved) onChange(drag.current.before, true);
      drag.current = null;
    };
    window.addEventListener('keydown', escape);
    return () => window.removeEventListener('keydown', escape);
  }, [onChange]);

  const down = (event: PointerEvent<HTMLCanvasElement>): void => {
    const { nativeEvent, currentTarget, pointerId } = event;
    const index = cutUnder(nativeEvent.offsetX, cutting, view, currentTarget.clientWidth);
    if (index === null) {
      const sample = sampleAt(nativeEvent.offsetX, view, currentTarget.clientWidth);
      onChoose(pieceAt(cutting, sample));
      onPlay(sample);
      return;
    }
    currentTarget.setPointerCapture(pointerId);
    drag.current = { index, startX: nativeEvent.offsetX, before: cutting, moved: false };
    onChoose(index);
  };
  const move = ({ nativeEvent, currentTarget }: PointerEvent<HTMLCanvasElement>): void => {
    const held = drag.current;
    const width = currentTarget.clientWidth;
    if (!held) {
      currentTarget.style.cursor =
        cutUnder(nativeEvent.offsetX, cutting, view, width) === null ? '' : 'ew-resize';
      return;
    }
    if (!held.moved && Math.abs(nativeEvent.offsetX - held.startX) < DRAG_AFTER_PX) return;
    onChange(moveCut(held.before, held.index, sampleAt(nativeEvent.offsetX, view, width)), held.moved);
    held.moved = true;
  };
  return (
    <div className={`cut-silhouette ${className}`}>
      <canvas
        ref={canvas}
        role="img"
        aria-label={label}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={() => (drag.current = null)}
      />
      <PlayLine rate={rate} view={view} />
    </div>
  );
}

/** The place that is heard, where it is in sight. */
function PlayLine({ rate, view }: { rate: number; view: CutView }) {
  const position = usePlayerState((state) => state.position);
  const share = xOf((position / PLAYER_RATE) * rate, view, 1);
  if (share < 0 || share > 1) return null;
  return <span className="master-mark" style={{ left: `${100 * share}%` }} />;
}
