import type { Part } from '@oiseau/album/layout';
import type { Album } from '@oiseau/album/model';
import { ticks, ticksToSamples, type Ticks } from '@oiseau/audio/time';
import { useEffect, useState, type PointerEvent } from 'react';
import { useAlbum } from '../../album/AlbumContext.js';
import { PLAYER_RATE } from '../../player/player.js';
import { usePlayer } from '../../album/PlayerContext.js';
import type { PointerDrag } from '../../ui/drag.js';
import type { KeepAfter } from '../useTrackActions.js';
import { dragged, handleUnder, timeOf, type Handle } from './bench-handles.js';
import type { BenchScene } from './bench-scene.js';
import { NO_SNAP, snap, type Caught, type SnapChoice } from './bench-snap.js';
import { timeAt, type BenchView } from './bench-view.js';
import type { CommitEdit } from './useBenchActions.js';

/** A handle in hand, and everything as it was when it was grabbed. */
interface Grip {
  readonly handle: Handle;
  readonly x: number;
  readonly view: BenchView;
  readonly scene: BenchScene;
  readonly album: Album;
  readonly part: Part;
}

/** What a drag has come to so far. */
interface Dragged {
  /** Where the handle was dragged to. */
  readonly time: Ticks;
  readonly caught: Caught | null;
}

interface DragOptions {
  /** The song that begins. */
  readonly id: string;
  readonly snaps: SnapChoice;
  readonly kept: KeepAfter;
  readonly onCommit: CommitEdit;
  /** Moves what is heard of the transition with the drag; null: back to where it was. */
  readonly onDraft: (draft: Part | null) => void;
}

export interface BenchDrag {
  readonly dragged: Dragged | null;
  readonly held: Handle | null;
  /** The view at the start of a drag: it stays while a handle is held. */
  readonly heldView: BenchView | null;
  /** @param scene what is under the pointer, as it is drawn now */
  readonly drag: (scene: BenchScene | null, view: BenchView) => PointerDrag<Grip, HTMLCanvasElement>;
}

/** Drags on the Bench: they begin after a few pixels, are heard while they go on, and Escape takes them back. */
export function useBenchDrag({ id, snaps, kept, onCommit, onDraft }: DragOptions): BenchDrag {
  const { album, part, facts, preview } = useAlbum('album', 'part', 'facts', 'preview');
  const player = usePlayer();
  const [now, setNow] = useState<Dragged | null>(null);
  const [hold, setHold] = useState<{ handle: Handle; view: BenchView } | null>(null);
  // A view that goes in the middle of a drag leaves nothing of it.
  useEffect(() => () => void preview(null), [preview]);

  const end = (): void => {
    preview(null);
    setNow(null);
    setHold(null);
  };
  const placeOf = (event: PointerEvent<HTMLCanvasElement>) => ({
    x: event.nativeEvent.offsetX,
    y: event.nativeEvent.offsetY,
    width: event.currentTarget.clientWidth,
    height: event.currentTarget.clientHeight,
  });
  const drag: BenchDrag['drag'] = (scene, view) => ({
    grab: (event) => {
      if (!scene) return null;
      const { x, y, width, height } = placeOf(event);
      const handle = handleUnder(x, y, scene, view, width, height);
      if (!handle) {
        void player.play(ticksToSamples(ticks(Math.max(0, timeAt(x, view, width))), PLAYER_RATE));
        return null;
      }
      setHold({ handle, view });
      return { handle, x, view, scene, album, part };
    },
    hover: (event) => {
      const { x, y, width, height } = placeOf(event);
      const over = scene && handleUnder(x, y, scene, view, width, height);
      event.currentTarget.style.cursor = over === 'gap' ? 'grab' : over ? 'ew-resize' : '';
    },
    move: (grip, by, event) => {
      const { width } = placeOf(event);
      const moved = timeAt(grip.x + by.x, grip.view, width) - timeAt(grip.x, grip.view, width);
      const wished = ticks(timeOf(grip.handle, grip.scene) + moved);
      const choice = event.shiftKey ? NO_SNAP : snaps;
      const { time, caught } = snap(grip.handle, wished, grip.scene, grip.view, width, choice);
      const moving = dragged(grip.album, grip.handle, time, grip.scene, grip.part, facts);
      const draft = preview(() => kept(moving, id, { part: grip.part, facts }));
      setNow({ time, caught });
      onDraft(draft && draft.part);
    },
    press: end,
    drop: ({ handle, scene: grabbed }) => {
      const time = now?.time;
      end();
      if (time === undefined) return;
      onCommit((before, then) => dragged(before, handle, time, grabbed, then.part, then.facts));
    },
    takeBack: (_, moved) => {
      end();
      if (moved) onDraft(null);
    },
  });
  return { dragged: now, held: hold?.handle ?? null, heldView: hold?.view ?? null, drag };
}
