import {
  layOutAlbum,
  framesToTicks,
  holdFrom,
  ticks,
  ticksToSamples,
  TICKS_PER_SECOND,
  type Album,
  type Silhouette,
  type Ticks,
} from '@oiseau/core';
import { Minus, Plus } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import { useAlbum } from '../../album/AlbumContext.js';
import type { MasterRecord } from '../../api/types.js';
import { PLAYER_RATE } from '../../player/player.js';
import { usePlayer, usePlayerState } from '../../player/PlayerContext.js';
import { useCanvas, type Draw } from '../../ui/canvas.js';
import { DRAG_AFTER_PX } from '../../ui/drag.js';
import { useWheel } from '../../ui/useWheel.js';
import { IconButton } from '../../ui/IconButton.js';
import { drawBench } from './bench-drawing.js';
import { dragged, handleUnder, type Handle } from './bench-handles.js';
import { voiceOf, type BenchScene } from './bench-scene.js';
import { FIRST_SPAN, SPANS, timeAt, xOf, type BenchView } from './bench-view.js';
import { changeWords } from './bench-words.js';
import { BenchNumbers } from './BenchNumbers.js';
import { useLevel } from './useLevel.js';

interface Drag {
  readonly handle: Handle;
  readonly x: number;
  readonly y: number;
  readonly view: BenchView;
  readonly scene: BenchScene;
  readonly album: Album;
  started: boolean;
}

interface BenchProps {
  /** The track that begins. */
  readonly index: number;
  readonly outlines: ReadonlyMap<string, Silhouette>;
  /** Everything after an edit stays where it is. */
  readonly hold: boolean;
  readonly onHold: (hold: boolean) => void;
}

/** One transition, laid open (design.md): it is dragged, typed and heard here. */
export function Bench(props: BenchProps) {
  const { album, mastersById } = useAlbum();
  const after = album.tracks[props.index];
  const master = after && mastersById.get(after.master);
  const before = album.tracks[props.index - 1];
  if (!after || !master) return null;
  return <OpenBench {...props} master={master} masterBefore={before && mastersById.get(before.master)} />;
}

function OpenBench({
  index,
  outlines,
  hold,
  onHold,
  master,
  masterBefore,
}: BenchProps & { master: MasterRecord; masterBefore: MasterRecord | undefined }) {
  const { album, layout, mastersById, edit } = useAlbum();
  const player = usePlayer();
  const facts = useMemo(() => new Map([...mastersById].map(([id, { info }]) => [id, info])), [mastersById]);
  const [zoom, setZoom] = useState(FIRST_SPAN);
  const [draft, setDraft] = useState<Album | null>(null);
  const [held, setHeld] = useState<Handle | null>(null);
  const drag = useRef<Drag | null>(null);
  const shown = draft ?? album;
  const placed = useMemo(() => (draft ? layOutAlbum(draft, facts).layout : layout), [draft, layout, facts]);

  const span = SPANS[zoom] ?? 1;
  // The song that ends is the fixed point: what a gap moves is the other one.
  const anchor = layout.tracks[index - 1]?.audioEnd ?? layout.tracks[index]?.audioStart ?? ticks(0);
  const view = useMemo((): BenchView => {
    const half = Math.round((span * TICKS_PER_SECOND) / 2);
    return { from: ticks(anchor - half), until: ticks(anchor + half) };
  }, [anchor, span]);

  const trackBefore = shown.tracks[index - 1];
  const trackAfter = shown.tracks[index];
  const placedBefore = placed.tracks[index - 1];
  const placedAfter = placed.tracks[index];
  const inMaster = (track: Album['tracks'][number] | undefined, start: Ticks | undefined): Ticks =>
    ticks(view.from - (start ?? 0) + (track?.in ?? 0));
  const levelBefore = useLevel(
    masterBefore ?? master,
    outlines.get(trackBefore?.master ?? ''),
    inMaster(trackBefore, placedBefore?.audioStart),
    span,
  );
  const levelAfter = useLevel(
    master,
    outlines.get(trackAfter?.master ?? ''),
    inMaster(trackAfter, placedAfter?.audioStart),
    span,
  );
  const scene = useMemo((): BenchScene | null => {
    const after = voiceOf(trackAfter, placedAfter, master, levelAfter);
    if (!after || !placedAfter) return null;
    return {
      before: voiceOf(trackBefore, placedBefore, masterBefore, levelBefore),
      after,
      startMark: framesToTicks(placedAfter.startMark),
      pause: placedAfter.pause === null ? null : framesToTicks(placedAfter.pause),
    };
  }, [trackBefore, trackAfter, placedBefore, placedAfter, master, masterBefore, levelBefore, levelAfter]);

  const shownView = drag.current?.view ?? view;
  const draw = useCallback<Draw>(
    (context, width, height, palette) => {
      if (scene) drawBench(context, width, height, palette, scene, shownView, held);
    },
    [scene, shownView, held],
  );
  const canvas = useCanvas(draw);
  const zoomBy = (steps: number): void =>
    setZoom((now) => Math.max(0, Math.min(SPANS.length - 1, now + steps)));
  useWheel(canvas, ({ deltaY }) => zoomBy(deltaY < 0 ? 1 : -1));
  useEffect(() => {
    const escape = (event: KeyboardEvent): void => {
      if (event.key !== 'Escape' || !drag.current) return;
      drag.current = null;
      setDraft(null);
      setHeld(null);
    };
    window.addEventListener('keydown', escape);
    return () => window.removeEventListener('keydown', escape);
  }, []);

  /** An edit of this transition; what follows moves along, or stays where it is. */
  const kept = (changed: Album): Album => (hold ? holdFrom(changed, index + 1, layout, facts) : changed);
  const commit = (changed: Album): void => {
    const final = kept(changed);
    edit(changeWords(album, final), () => final);
  };

  const down = (event: PointerEvent<HTMLCanvasElement>): void => {
    if (!scene || event.button !== 0) return;
    const { offsetX: x, offsetY: y } = event.nativeEvent;
    const { clientWidth: width, clientHeight: height } = event.currentTarget;
    const handle = handleUnder(x, y, scene, view, width, height);
    if (!handle) {
      void player.play(ticksToSamples(ticks(Math.max(0, timeAt(x, view, width))), PLAYER_RATE));
      return;
    }
    event.currentTarget.setPointerCapture(event.pointerId);
    drag.current = { handle, x, y, view, scene, album, started: false };
    setHeld(handle);
  };
  const move = (event: PointerEvent<HTMLCanvasElement>): void => {
    const { offsetX: x, offsetY: y } = event.nativeEvent;
    const { clientWidth: width, clientHeight: height } = event.currentTarget;
    const now = drag.current;
    if (!now) {
      const over = scene && handleUnder(x, y, scene, view, width, height);
      event.currentTarget.style.cursor = over === 'gap' ? 'grab' : over ? 'ew-resize' : '';
      return;
    }
    if (!now.started && Math.hypot(x - now.x, y - now.y) < DRAG_AFTER_PX) return;
    now.started = true;
    const moved = ticks(timeAt(x, now.view, width) - timeAt(now.x, now.view, width));
    setDraft(
      kept(dragged(now.album, index, now.handle, moved, now.scene, facts, !event.shiftKey && span > 0.1)),
    );
  };
  const up = (): void => {
    const changed = drag.current?.started ? draft : null;
    drag.current = null;
    setHeld(null);
    setDraft(null);
    if (changed) edit(changeWords(album, changed), () => changed);
  };
  if (!scene) return null;
  return (
    <section className="bench" aria-label="Bench">
      <header>
        <h3>
          {trackBefore ? (
            <>
              {trackBefore.title || `Track ${index}`} <span className="text-secondary">into</span>{' '}
            </>
          ) : (
            <span className="text-secondary">The disc begins with </span>
          )}
          {trackAfter?.title || `Track ${index + 1}`}
        </h3>
        <span className="text-secondary">{span >= 0.1 ? `${span} s` : `${span * 1000} ms`}</span>
        <IconButton
          icon={Minus}
          label="Show more around the transition"
          disabled={zoom === 0}
          onClick={() => zoomBy(-1)}
        />
        <IconButton
          icon={Plus}
          label="Show the transition closer"
          disabled={zoom === SPANS.length - 1}
          onClick={() => zoomBy(1)}
        />
      </header>
      <div className="bench-picture">
        <canvas
          ref={canvas}
          role="img"
          aria-label={`Transition into track ${index + 1}`}
          onPointerDown={down}
          onPointerMove={move}
          onPointerUp={up}
        />
        <BenchPlayMark view={shownView} />
      </div>
      <BenchNumbers
        scene={scene}
        index={index}
        album={shown}
        masters={facts}
        hold={hold}
        onHold={onHold}
        onCommit={commit}
      />
    </section>
  );
}

/** The place that is heard, where it is in sight. */
function BenchPlayMark({ view }: { view: BenchView }) {
  const position = usePlayerState((state) => state.position);
  const share = xOf((position / PLAYER_RATE) * TICKS_PER_SECOND, view, 1);
  if (share < 0 || share > 1) return null;
  return <span className="master-mark" style={{ left: `${100 * share}%` }} aria-hidden />;
}
