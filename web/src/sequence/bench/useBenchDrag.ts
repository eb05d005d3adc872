import {
  layOutAlbum,
  ticks,
  ticksToSamples,
  type Album,
  type MasterFactsByKey,
  type Part,
} from '@oiseau/core';
import { useEffect, useRef, useState, type PointerEvent } from 'react';
import { PLAYER_RATE } from '../../player/player.js';
import { usePlayer } from '../../player/PlayerContext.js';
import { DRAG_AFTER_PX } from '../../ui/drag.js';
import { useThrottled } from '../../ui/useThrottled.js';
import { dragged, handleUnder, timeOf, type Handle } from './bench-handles.js';
import type { BenchScene } from './bench-scene.js';
import { NO_SNAP, snap, type Caught, type SnapChoice } from './bench-snap.js';
import { timeAt, type BenchView } from './bench-view.js';

interface Drag {
  readonly handle: Handle;
  readonly x: number;
  readonly y: number;
  readonly view: BenchView;
  readonly scene: BenchScene;
  readonly album: Album;
  readonly part: Part;
  started: boolean;
}

/** What a drag has come to so far. */
interface Draft {
  readonly album: Album;
  readonly part: Part;
  readonly caught: Caught | null;
}

/** A drag is sent to the player so often, that it is heard while it goes on. */
const HEARD_EVERY_MS = 80;

interface DragOptions {
  readonly album: Album;
  readonly part: Part;
  readonly facts: MasterFactsByKey;
  readonly snaps: SnapChoice;
  /** What follows moves along, or stays where it is. */
  readonly kept: (changed: Album) => Album;
  readonly onCommit: (changed: Album) => void;
  /** The album as a drag would leave it, to be heard; null when it was taken back. */
  readonly onDraft: (draft: Album | null) => void;
}

export interface BenchDrag {
  readonly draft: Draft | null;
  readonly held: Handle | null;
  /** The view at the start of a drag: it stays while a handle is held. */
  readonly heldView: BenchView | null;
  /** @param scene what is under the pointer, as it is drawn now */
  readonly handlers: (
    scene: BenchScene | null,
    view: BenchView,
  ) => Record<
    'onPointerDown' | 'onPointerMove' | 'onPointerUp',
    (event: PointerEvent<HTMLCanvasElement>) => void
  >;
}

/** Drags on the Bench: they begin after a few pixels, are heard while they go on, and Escape takes them back. */
export function useBenchDrag({ album, part, facts, snaps, kept, onCommit, onDraft }: DragOptions): BenchDrag {
  const player = usePlayer();
  const [draft, setDraft] = useState<Draft | null>(null);
  const [hold, setHold] = useState<{ handle: Handle; view: BenchView } | null>(null);
  const drag = useRef<Drag | null>(null);
  const heard = useThrottled(onDraft, HEARD_EVERY_MS);

  const end = (): void => {
    drag.current = null;
    heard.drop();
    setDraft(null);
    setHold(null);
  };
  const takeBack = useRef<() => void>(() => undefined);
  useEffect(() => {
    takeBack.current = () => {
      if (!drag.current) return;
      const { started } = drag.current;
      end();
      if (started) onDraft(null);
    };
  });
  useEffect(() => {
    const escape = (event: KeyboardEvent): void => {
      if (event.key === 'Escape') takeBack.current();
    };
    window.addEventListener('keydown', escape);
    return () => window.removeEventListener('keydown', escape);
  }, []);

  const placeOf = (event: PointerEvent<HTMLCanvasElement>) => ({
    x: event.nativeEvent.offsetX,
    y: event.nativeEvent.offsetY,
    width: event.currentTarget.clientWidth,
    height: event.currentTarget.clientHeight,
  });
  const handlers: BenchDrag['handlers'] = (scene, view) => ({
    onPointerDown: (event) => {
      if (!scene || event.button !== 0) return;
      const { x, y, width, height } = placeOf(event);
      const handle = handleUnder(x, y, scene, view, width, height);
      if (!handle) {
        void player.play(ticksToSamples(ticks(Math.max(0, timeAt(x, view, width))), PLAYER_RATE));
        return;
      }
      event.currentTarget.setPointerCapture(event.pointerId);
      drag.current = { handle, x, y, view, scene, album, part, started: false };
      setHold({ handle, view });
    },
    onPointerMove: (event) => {
      const { x, y, width, height } = placeOf(event);
      const now = drag.current;
      if (!now) {
        const over = scene && handleUnder(x, y, scene, view, width, height);
        event.currentTarget.style.cursor = over === 'gap' ? 'grab' : over ? 'ew-resize' : '';
        return;
      }
      if (!now.started && Math.hypot(x - now.x, y - now.y) < DRAG_AFTER_PX) return;
      now.started = true;
      const by = timeAt(x, now.view, width) - timeAt(now.x, now.view, width);
      const wished = ticks(timeOf(now.handle, now.scene) + by);
      const choice = event.shiftKey ? NO_SNAP : snaps;
      const { time, caught } = snap(now.handle, wished, now.scene, now.view, width, choice);
      const changed = kept(dragged(now.album, now.handle, time, now.scene, now.part, facts));
      setDraft({ album: changed, part: layOutAlbum(changed, facts)[0], caught });
      heard.call(changed);
    },
    onPointerUp: () => {
      const changed = drag.current?.started ? draft?.album : undefined;
      end();
      if (changed) onCommit(changed);
    },
  });
  return { draft, held: hold?.handle ?? null, heldView: hold?.view ?? null, handlers };
}
