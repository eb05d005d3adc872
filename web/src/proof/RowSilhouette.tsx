import type { Silhouette } from '@oiseau/audio/measure';
import { useCallback, type PointerEvent } from 'react';
import { PlayMark } from '../masters/MasterSilhouette.js';
import { PLAYER_RATE } from '../player/player.js';
import { usePlayer } from '../album/PlayerContext.js';
import { useCanvas, type Draw } from '../ui/canvas.js';
import { drawOutline } from '../ui/silhouette-drawing.js';
import { secondsOf, type HeardFile } from './heard-files.js';
import { t } from '../ui/messages.js';

interface RowProps {
  readonly name: string;
  readonly heard: readonly HeardFile[];
  readonly outlines: readonly (Silhouette | undefined)[];
  /** Seconds from the start of the row: where tracks begin, and what was noted. */
  readonly marks: readonly number[];
  readonly noted: readonly number[];
}

/** Room over the silhouette for notes. */
const NOTES = 12;

/** Everything that was rendered of a part, drawn from what was written: tracks ruled in, notes on top; a press plays from there. */
export function RowSilhouette({ name, heard, outlines, marks, noted }: RowProps) {
  const player = usePlayer();
  const total = secondsOf(heard);
  const draw = useCallback<Draw>(
    (context, width, height, { ink, soft, accent, rule }) => {
      context.clearRect(0, 0, width, height);
      const ground = height - 1;
      const at = (seconds: number): number => (seconds / Math.max(1e-9, total)) * width;
      heard.forEach(({ start, seconds }, i) => {
        const outline = outlines[i];
        if (!outline) return;
        const stretch = {
          x: at(start),
          width: at(seconds),
          ground,
          height: ground - NOTES,
          from: 0,
          to: outline.length,
        };
        drawOutline(context, outline, stretch, { soft, ink });
      });
      context.fillStyle = ink;
      context.fillRect(0, ground, width, 1);
      context.fillStyle = rule;
      for (const seconds of marks) context.fillRect(at(seconds), NOTES, 1, ground - NOTES);
      context.fillStyle = accent;
      for (const seconds of noted) {
        const x = at(seconds);
        context.beginPath();
        context.moveTo(x - 5, 0);
        context.lineTo(x + 5, 0);
        context.lineTo(x, NOTES - 2);
        context.closePath();
        context.fill();
      }
    },
    [heard, outlines, marks, noted, total],
  );
  const play = ({ nativeEvent, currentTarget }: PointerEvent<HTMLElement>): void =>
    void player.play((nativeEvent.offsetX / currentTarget.clientWidth) * total * PLAYER_RATE);
  return (
    <div className="master-silhouette row-silhouette">
      <canvas
        ref={useCanvas(draw)}
        role="img"
        aria-label={t('Waveform of the rendered {name}', { name })}
        title={t('Click to play from here')}
        onPointerDown={play}
      />
      <PlayMark seconds={total} />
    </div>
  );
}
