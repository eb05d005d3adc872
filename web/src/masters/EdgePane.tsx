import { Minus, Plus } from 'lucide-react';
import { useCallback, useMemo, useState } from 'react';
import type { MasterRecord } from '@oiseau/api';
import { formatPlace } from '../ui/format.js';
import { IconButton } from '../ui/IconButton.js';
import { useCanvas, type Draw } from '../ui/canvas.js';
import { useWheel } from '../ui/useWheel.js';
import { drawEdge } from './edge-drawing.js';
import { useMasterStretch } from './master-pcm.js';
import { t } from '../ui/messages.js';

/** How much of the master is in sight, in seconds, from the widest to a few samples. */
const SPANS = [20, 10, 4, 2, 1, 0.4, 0.1, 0.02, 0.004, 0.001];
const FIRST_SPAN = 3;
/** Where the edge stands across the picture: some of what is beside the sound is seen as well. */
const PLACE = { head: 0.35, tail: 0.65 } as const;

/** The head or the tail of a master, zoomed from seconds to the single sample around the place where its sound starts or ends. */
export function EdgePane({
  master,
  edge,
  onPlay,
}: {
  master: MasterRecord;
  edge: 'head' | 'tail';
  onPlay: (sample: number) => void;
}) {
  const { rate, length } = master.info;
  const [zoom, setZoom] = useState(FIRST_SPAN);
  const places = useMemo(
    () =>
      (master.measurement?.edges ?? []).flatMap(({ levelDb, start, end }) => {
        const at = edge === 'head' ? start : end;
        return at === null ? [] : [{ at, label: t('−{level} dB', { level: -levelDb }) }];
      }),
    [master, edge],
  );
  const anchor = places[0]?.at ?? (edge === 'head' ? 0 : length);
  const count = Math.max(8, Math.round((SPANS[zoom] ?? 1) * rate));
  const from = Math.round(anchor - count * PLACE[edge]);
  const stretch = useMasterStretch(master, from, count + 2);
  const zoomBy = (steps: number): void =>
    setZoom((before) => Math.max(0, Math.min(SPANS.length - 1, before + steps)));
  const draw = useCallback<Draw>(
    (context, width, height, palette) => {
      if (!stretch) return;
      drawEdge(context, width, height, palette, {
        left: stretch.left,
        right: stretch.right,
        audioFrom: stretch.from,
        from,
        count,
        marks: places,
        length,
        labels: edge === 'head' ? 'left' : 'right',
      });
    },
    [stretch, from, count, places, length, edge],
  );
  const canvas = useCanvas(draw);
  useWheel(canvas, ({ deltaY }) => zoomBy(deltaY < 0 ? 1 : -1));
  const span = SPANS[zoom] ?? 1;
  return (
    <section className="edge-pane" aria-label={edge === 'head' ? t('Head') : t('Tail')}>
      <header>
        <h3>{edge === 'head' ? t('Head') : t('Tail')}</h3>
        <span className="text-secondary flex-grow-1">{edgeWords(master, edge)}</span>
        <span className="text-secondary">
          {span >= 0.1
            ? t('{seconds} s', { seconds: span })
            : t('{count} samples', { count: Math.round(span * rate) })}
        </span>
        <IconButton
          icon={Minus}
          label={edge === 'head' ? t('Show more of the head') : t('Show more of the tail')}
          disabled={zoom === 0}
          onClick={() => zoomBy(-1)}
        />
        <IconButton
          icon={Plus}
          label={edge === 'head' ? t('Show the head closer') : t('Show the tail closer')}
          disabled={zoom === SPANS.length - 1}
          onClick={() => zoomBy(1)}
        />
      </header>
      <canvas
        ref={canvas}
        role="img"
        aria-label={
          edge === 'head'
            ? t('The head of {name}', { name: master.name })
            : t('The tail of {name}', { name: master.name })
        }
        title={t('Click to play from here; wheel to zoom')}
        onClick={({ nativeEvent, currentTarget }) =>
          onPlay(from + (nativeEvent.offsetX / currentTarget.clientWidth) * count)
        }
      />
    </section>
  );
}

function edgeWords({ info, measurement }: MasterRecord, edge: 'head' | 'tail'): string {
  const loud = measurement?.edges[0];
  if (loud?.start == null || loud.end === null) return '';
  const clock = (sample: number): string => formatPlace(sample, info.rate);
  return edge === 'head'
    ? t('over −60 dBFS from {at}', { at: clock(loud.start) })
    : t('last over −60 dBFS at {at}, {rest} before the end', {
        at: clock(loud.end),
        rest: clock(info.length - loud.end),
      });
}
