import { layOutPart, type Part } from '@oiseau/album/layout';
import type { Album } from '@oiseau/album/model';
import { ticks, ticksToSamples, type Ticks } from '@oiseau/audio/time';
import { useState, type PointerEvent } from 'react';
import { useAlbum } from '../../album/AlbumContext.js';
import { PLAYER_RATE } from '../../player/player.js';
import { usePlayer } from '../../album/PlayerContext.js';
import type { PointerDrag } from '../../ui/drag.js';
import { useThrottled } from '../../ui/useThrottled.js';
import type { KeepAfter } from '../useLedgerDeeds.js';
import { dragged, handleUnder, timeOf, type Handle } from './bench-handles.js';
import type { BenchScene } from './bench-scene.js';
import { NO_SNAP, snap, type Caught, type SnapChoice } from './bench-snap.js';
import { timeAt, type BenchView } from './bench-view.js';
import type { CommitEdit } from './useBenchDeeds.js';

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
interface Draft {
  /** Where the handle was dragged to. */
  readonly time: Ticks;
  readonly album: Album;
  readonly part: Part;
  readonly caught: Caught | null;
}

/** A drag is sent to the player so often, that it is heard while it goes on. */
const HEARD_EVERY_MS = 80;

interface DragOptions {
  /** The song that begins. */
  readonly id: string;
  readonly snaps: SnapChoice;
  readonly kept: KeepAfter;
  readonly onCommit: CommitEdit;
  /** The album as a drag would leave it, to be heard; null when it was taken back. */
  readonly onDraft: (draft: Album | null) => void;
}

export interface BenchDrag {
  readonly draft: Draft | null;
  readonly held: Handle | null;
  /** The view at the start of a drag: it stays while a handle is held. */
  readonly heldView: BenchView | null;
  /** @param scene what is under the pointer, as it is drawn now */
  readonly drag: (scene: BenchScene | null, view: BenchView) => PointerDrag<Grip, HTMLCanvasElement>;
}

/** Drags on the Bench: they begin after a few pixels, are heard while they go on, and Escape takes them back. */
export function useBenchDrag({ id, snaps, kept, onCommit, onDraft }: DragOptions): BenchDrag {
  const { album, part, facts } = useAlbum('album', 'part', 'facts');
  const player = usePlayer();
  const [draft, setDraft] = useState<Draft | null>(null);
  const [hold, setHold] = useState<{ handle: Handle; view: BenchView } | null>(null);
  const heard = useThrottled(onDraft, HEARD_EVERY_MS);

  const end = (): void => {
    heard.drop();
    setDraft(null);
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
      const changed = kept(moving, id, { part: grip.part, facts });
      setDraft({ time, album: changed, part: layOutPart(changed, facts, part.number), caught });
      heard.call(changed);
    },
    press: end,
    drop: ({ handle, scene: grabbed }) => {
      const time = draft?.time;
      end();
      if (time === undefined) return;
      onCommit((before, now) => dragged(before, handle, time, grabbed, now.part, now.facts));
    },
    takeBack: (_, moved) => {
      end();
      if (moved) onDraft(null);
    },
  });
  return { draft, held: hold?.handle ?? null, heldView: hold?.view ?? null, drag };
}
