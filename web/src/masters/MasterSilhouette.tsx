import { ticksToSeconds } from '@oiseau/audio/time';
import { masterTicks } from '@oiseau/album/model';
import type { Silhouette } from '@oiseau/audio/measure';
import { useCallback, type PointerEvent } from 'react';
import type { MasterRecord } from '@oiseau/api';
import { PLAYER_RATE } from '../player/player.js';
import { usePlayer, usePlayerState } from '../album/PlayerContext.js';
import { useCanvas, type Draw } from '../ui/canvas.js';
import { drawOutline } from '../ui/silhouette-drawing.js';
import { t } from '../ui/messages.js';

/** Height above the silhouette where clipped places are marked. */
const MARKS = 10;

/** A whole master, large: its clipped places on top, the place that is heard, a press plays from there. */
export function MasterSilhouette({
  master,
  outline,
}: {
  master: MasterRecord;
  outline: Silhouette | undefined;
}) {
  const player = usePlayer();
  const seconds = ticksToSeconds(masterTicks(master.info));
  const draw = useCallback<Draw>(
    (context, width, height, { ink, soft, danger }) => {
      context.clearRect(0, 0, width, height);
      const ground = height - 1;
      if (outline) {
        const stretch = { x: 0, width, ground, height: ground - MARKS, from: 0, to: outline.length };
        drawOutline(context, outline, stretch, { soft, ink });
      }
      context.fillStyle = ink;
      context.fillRect(0, ground, width, 1);
      context.fillStyle = danger;
      for (const { at } of master.measurement?.clipped ?? [])
        context.fillRect((at / master.info.length) * width - 1, 0, 2, MARKS - 2);
    },
    [outline, master],
  );
  const play = ({ nativeEvent, currentTarget }: PointerEvent<HTMLElement>): void =>
    void player.play((nativeEvent.offsetX / currentTarget.clientWidth) * seconds * PLAYER_RATE);
  return (
    <div className="master-silhouette">
      <canvas
        ref={useCanvas(draw)}
        role="img"
        aria-label={t('Waveform of {name}', { name: master.name })}
        title={t('Click to play from here')}
        onPointerDown={play}
      />
      <PlayMark seconds={seconds} />
    </div>
  );
}

/** The place that is heard, on anything that shows so many seconds across its width. */
export function PlayMark({ seconds }: { seconds: number }) {
  const position = usePlayerState((state) => state.position);
  const share = Math.min(1, position / PLAYER_RATE / Math.max(1e-9, seconds));
  return <span className="master-mark" style={{ left: `${100 * share}%` }} />;
}
