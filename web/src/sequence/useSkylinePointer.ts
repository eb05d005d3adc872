import { moveInPart } from '@oiseau/album/edits';
import { partName, songOf, trackNumber } from '@oiseau/album/model';
import { type Part, songAt } from '@oiseau/album/layout';
import { ticksToSamples } from '@oiseau/audio/time';
import { useState, type PointerEvent, type RefObject } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { PLAYER_RATE } from '../player/player.js';
import { usePlayer } from '../album/PlayerContext.js';
import { usePointerDrag } from '../ui/drag.js';
import {
  gutterOf,
  placeAt,
  rowAt,
  timeAt,
  type SkylineRow,
  type SkylineView,
  type TrackDrag,
} from './skyline.js';
import { placeWords } from './place-words.js';
import type { ChosenSongs } from './useChosenSongs.js';
import { say, t } from '../ui/messages.js';

interface Press {
  readonly song: string | null;
  /** Where it would go; null until the press has become a drag. */
  to: TrackDrag | null;
}

/** Where the pointer is over the canvas, in pixels, and on which part. */
interface Pointed {
  readonly x: number;
  readonly width: number;
  readonly row: SkylineRow;
}

interface SkylineGround {
  readonly canvas: RefObject<HTMLCanvasElement | null>;
  readonly view: SkylineView;
  readonly rows: readonly SkylineRow[];
  readonly chosen: ChosenSongs;
  /** The track that is held and where it would go; null when it was let go. */
  readonly onDrag: (drag: TrackDrag | null) => void;
}

/**
 * What the pointer does on the Skyline: a press plays from there, a drag takes the track under it to another place, on its own part or another.
 * @returns `pointer`: null while it is elsewhere
 */
export function useSkylinePointer({ canvas, view, rows, chosen, onDrag }: SkylineGround) {
  const { parts, edit, showPart } = useAlbum('parts', 'edit', 'showPart');
  const player = usePlayer();
  const [pointer, setPointer] = useState<Pointed | null>(null);
  const left = gutterOf(rows);
  const place = (event: PointerEvent): Pointed | null => {
    const box = canvas.current?.getBoundingClientRect() ?? new DOMRect();
    const row = rowAt(rows, event.clientY - box.top);
    return row ? { x: event.clientX - box.left, width: box.width, row } : null;
  };
  const timeOf = ({ x, width }: Pointed) => timeAt(view, x, width, left);
  const partOf = (id: string): Part | undefined =>
    parts.find(({ songs }) => songs.some((song) => song.id === id));
  const pointing = usePointerDrag<Press, HTMLElement>({
    grab: (event) => {
      const at = place(event);
      return at && { song: songAt(at.row.part.placement, timeOf(at)), to: null };
    },
    hover: (event) => setPointer(place(event)),
    move: (held, _, event) => {
      const at = place(event);
      setPointer(at);
      const own = held.song === null ? undefined : partOf(held.song);
      // A hidden song stays where it is.
      if (!at || held.song === null || !own || trackNumber(own, held.song) === null) return;
      const { part } = at.row;
      held.to = { id: held.song, part: part.number, to: placeAt(part, held.song, timeOf(at)) };
      onDrag(held.to);
    },
    press: ({ song }, event) => {
      const at = place(event);
      if (!at) return;
      showPart(at.row.part.number);
      if (song !== null) chosen.choose(song);
      void player.play(ticksToSamples(timeOf(at), PLAYER_RATE));
    },
    drop: ({ song: id, to }) => {
      onDrag(null);
      const own = id === null ? undefined : partOf(id);
      const target = to && parts[to.part - 1];
      if (id === null || !own) return;
      chosen.choose(id);
      const number = trackNumber(own, id);
      if (!target || number === null || (own === target && number === to.to + 1)) return;
      const title = songOf(own, id)?.title ?? '';
      const words = own === target ? placeWords(own, to.to) : say(partName(target));
      edit(
        t('“{title}” from {from} to {to}', { title, from: placeWords(own, number - 1), to: words }),
        (before) => moveInPart(before, id, to.part, to.to),
      );
      showPart(to.part);
    },
    takeBack: () => onDrag(null),
  });
  return { pointing, pointer, leave: () => setPointer(null) };
}
