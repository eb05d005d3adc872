import { moveInPart, songAt, songOf, ticksToSamples, trackNumber } from '@oiseau/core';
import { useState, type PointerEvent, type RefObject } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { PLAYER_RATE } from '../player/player.js';
import { usePlayer } from '../player/PlayerContext.js';
import { usePointerDrag } from '../ui/drag.js';
import { placeAt, timeAt, type SkylineView, type TrackDrag } from './skyline.js';
import type { ChosenSongs } from './useChosenSongs.js';

interface Press {
  readonly song: string | null;
  /** Where it would go; null until the press has become a drag. */
  to: number | null;
}

/**
 * What the pointer does on the Skyline: a press plays from there, a drag takes the track under it to another place.
 * @param onDrag the track that is held and where it would go; null when it was let go
 * @returns `pointer`: where it is over the canvas, in pixels; null while it is elsewhere
 */
export function useSkylinePointer(
  canvas: RefObject<HTMLCanvasElement | null>,
  view: SkylineView,
  chosen: ChosenSongs,
  onDrag: (drag: TrackDrag | null) => void,
) {
  const { part, edit } = useAlbum('part', 'edit');
  const player = usePlayer();
  const [pointer, setPointer] = useState<{ x: number; width: number } | null>(null);
  const place = (event: PointerEvent): { x: number; width: number } => {
    const box = canvas.current?.getBoundingClientRect() ?? new DOMRect();
    return { x: event.clientX - box.left, width: box.width };
  };
  const pointing = usePointerDrag<Press, HTMLElement>({
    grab: (event) => {
      const { x, width } = place(event);
      return { song: songAt(part.placement, timeAt(view, x, width)), to: null };
    },
    hover: (event) => setPointer(place(event)),
    move: (held, _, event) => {
      const { x, width } = place(event);
      setPointer({ x, width });
      // A hidden song stays where it is.
      if (!held.song || trackNumber(part, held.song) === null) return;
      held.to = placeAt(part, held.song, timeAt(view, x, width));
      onDrag({ id: held.song, to: held.to });
    },
    press: ({ song }, event) => {
      const { x, width } = place(event);
      if (song !== null) chosen.choose(song);
      void player.play(ticksToSamples(timeAt(view, x, width), PLAYER_RATE));
    },
    drop: ({ song: id, to }) => {
      onDrag(null);
      if (id === null) return;
      chosen.choose(id);
      const number = trackNumber(part, id);
      if (to !== null && number !== null && number !== to + 1)
        edit(`“${songOf(part, id)?.title ?? ''}” from ${number} to ${to + 1}`, (before) =>
          moveInPart(before, id, part.number, to),
        );
    },
    takeBack: () => onDrag(null),
  });
  return { pointing, pointer, leave: () => setPointer(null) };
}
