import { moveCut, pieceAt, type Cutting } from '@oiseau/formats/cutting';
import type { Silhouette } from '@oiseau/audio/measure';
import { useCallback } from 'react';
import { PLAYER_RATE } from '../player/player.js';
import { usePlayerState } from '../album/PlayerContext.js';
import { useCanvas, type Draw } from '../ui/canvas.js';
import { usePointerDrag } from '../ui/drag.js';
import { useWheel } from '../ui/useWheel.js';
import { cutUnder, drawCuts, sampleAt, xOf, type CutScene, type CutView } from './cut-drawing.js';

/** A cut in hand, and the cutting as it was. */
interface CutGrip {
  readonly index: number;
  readonly before: Cutting;
  /** Changes of one drag are one step of undo. */
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
  const pointing = usePointerDrag<CutGrip, HTMLCanvasElement>({
    grab: ({ nativeEvent, currentTarget }) => {
      const index = cutUnder(nativeEvent.offsetX, cutting, view, currentTarget.clientWidth);
      if (index === null) {
        const sample = sampleAt(nativeEvent.offsetX, view, currentTarget.clientWidth);
        onChoose(pieceAt(cutting, sample));
        onPlay(sample);
        return null;
      }
      onChoose(index);
      return { index, before: cutting, moved: false };
    },
    hover: ({ nativeEvent, currentTarget }) => {
      const under = cutUnder(nativeEvent.offsetX, cutting, view, currentTarget.clientWidth);
      currentTarget.style.cursor = under === null ? '' : 'ew-resize';
    },
    move: (grip, _, { nativeEvent, currentTarget }) => {
      const sample = sampleAt(nativeEvent.offsetX, view, currentTarget.clientWidth);
      onChange(moveCut(grip.before, grip.index, sample), grip.moved);
      grip.moved = true;
    },
    // Every move has changed the cutting already.
    drop: () => undefined,
    takeBack: ({ before }, moved) => {
      if (moved) onChange(before, true);
    },
  });
  return (
    <div className={`cut-silhouette ${className}`}>
      <canvas ref={canvas} role="img" aria-label={label} {...pointing} />
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
