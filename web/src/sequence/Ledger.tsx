import {
  DndContext,
  PointerSensor,
  closestCenter,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import { SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { moveTrack, removeTracks } from '@oiseau/core';
import { useRef, type KeyboardEvent } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { DRAG_AFTER_PX } from '../ui/drag.js';
import { useNotices } from '../ui/Notices.js';
import { chord } from '../ui/useShortcuts.js';
import { LedgerRow } from './LedgerRow.js';

/** Number, title, start, length, gap: typed in place, reordered by dragging or by keys. */
export function Ledger({
  chosen,
  onChoose,
  onPlay,
}: {
  chosen: number;
  onChoose: (track: number) => void;
  onPlay: (track: number) => void;
}) {
  const { album, edit, undo } = useAlbum();
  const { tell } = useNotices();
  const body = useRef<HTMLTableSectionElement>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: DRAG_AFTER_PX } }));
  const { tracks } = album;

  const move = (from: number, to: number): void => {
    const track = tracks[from];
    if (!track || to < 0 || to >= tracks.length || from === to) return;
    edit(`“${track.title}” from ${from + 1} to ${to + 1}`, (before) => moveTrack(before, from, to));
    onChoose(to);
  };
  const remove = (index: number): void => {
    const track = tracks[index];
    if (!track) return;
    edit(`“${track.title}” taken out`, (before) => removeTracks(before, new Set([track.id])));
    tell(`“${track.title}” was taken out of the album; its master stays.`, { label: 'Undo', run: undo });
    focusRow(Math.min(index, tracks.length - 2));
  };
  const focusRow = (index: number): void => {
    // The row that is meant may only be there after the next drawing.
    requestAnimationFrame(() =>
      body.current?.querySelectorAll<HTMLTableRowElement>('tr.track')[index]?.focus(),
    );
  };
  const dragEnd = ({ active, over }: DragEndEvent): void => {
    const place = (id: unknown): number => tracks.findIndex((track) => track.id === id);
    if (over) move(place(active.id), place(over.id));
  };
  const rowKey = (event: KeyboardEvent<HTMLTableRowElement>, index: number): void => {
    if (event.target !== event.currentTarget) return;
    const actions: Readonly<Record<string, () => void>> = {
      ArrowUp: () => focusRow(Math.max(0, index - 1)),
      ArrowDown: () => focusRow(Math.min(tracks.length - 1, index + 1)),
      Home: () => focusRow(0),
      End: () => focusRow(tracks.length - 1),
      Enter: () => onPlay(index),
      Delete: () => remove(index),
      'Alt+ArrowUp': () => {
        move(index, index - 1);
        focusRow(Math.max(0, index - 1));
      },
      'Alt+ArrowDown': () => {
        move(index, index + 1);
        focusRow(Math.min(tracks.length - 1, index + 1));
      },
    };
    const run = actions[chord(event)];
    if (!run) return;
    event.preventDefault();
    run();
  };

  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={dragEnd}>
      <table className="table ledger">
        <thead>
          <tr>
            <th aria-label="Drag" />
            <th className="num">No.</th>
            <th aria-label="Play" />
            <th>Title</th>
            <th className="num" title="Seconds, 250 ms, 1:02.5 or MM:SS:FF">
              Gap
            </th>
            <th className="num" title="Index 01 on the disc, MM:SS:FF">
              Start
            </th>
            <th className="num">Length</th>
            <th className="num" title="Gain in dB, and the loudness that comes of it">
              Gain
            </th>
            <th className="num">Loudness</th>
            <th aria-label="Take out" />
          </tr>
        </thead>
        <SortableContext items={tracks.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
          <tbody ref={body}>
            {tracks.map((track, index) => (
              <LedgerRow
                key={track.id}
                track={track}
                index={index}
                chosen={index === chosen}
                onChoose={() => onChoose(index)}
                onPlay={() => onPlay(index)}
                onRemove={() => remove(index)}
                onKeyDown={(event) => rowKey(event, index)}
              />
            ))}
          </tbody>
        </SortableContext>
      </table>
    </DndContext>
  );
}
