import type { Silhouette } from '@oiseau/audio/measure';
import { memo, useCallback } from 'react';
import { useCanvas, type Draw } from '../ui/canvas.js';
import { drawOutline } from '../ui/silhouette-drawing.js';
import { t } from '../ui/messages.js';

/** A whole master as a small silhouette: peaks behind, loudness in front. */
export const Outline = memo(function Outline({ outline, name }: { outline: Silhouette; name: string }) {
  const draw = useCallback<Draw>(
    (context, width, height, { ink, soft, rule }) => {
      const stretch = { x: 0, width, ground: height - 1, height: height - 2, from: 0, to: outline.length };
      drawOutline(context, outline, stretch, { soft, ink });
      context.fillStyle = rule;
      context.fillRect(0, height - 1, width, 1);
    },
    [outline],
  );
  return (
    <canvas
      ref={useCanvas(draw)}
      className="outline"
      role="img"
      aria-label={t('Waveform of {name}', { name })}
    />
  );
});
