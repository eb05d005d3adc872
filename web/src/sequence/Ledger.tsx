import {
  DndContext,
  PointerSensor,
  closestCenter,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import { SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { intervalLength, outOf, type Album, type Song } from '@oiseau/core';
import { useMemo, useRef, type KeyboardEvent, type MouseEvent } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { DRAG_AFTER_PX } from '../ui/drag.js';
import { chord } from '../ui/useShortcuts.js';
import { useStable } from '../ui/useStable.js';
import { ChosenStrip } from './ChosenStrip.js';
import { fieldPlace } from './ledger-fields.js';
import { LedgerRow, type LedgerActions } from './LedgerRow.js';
import type { ChosenSongs } from './useChosenSongs.js';
import { useLedgerDeeds } from './useLedgerDeeds.js';

interface LedgerProps {
  readonly chosen: ChosenSongs;
  readonly onPlay: (id: string) => void;
  /** What follows a song moves along with an edit of it, or stays where it is. */
  readonly kept: (changed: Album, id: string) => Album;
}

/** The same object every time: all rows are drawn anew when it changes. */
const DRAG_START = { activationConstraint: { distance: DRAG_AFTER_PX } };

/** Rows on either side of the one in hand that can be in sight with it. */
const NEAR = 20;

/** The same element every time. */
const HEAD = (
  <thead role="rowgroup">
    <tr role="row">
      <th role="columnheader" aria-label="Drag" />
      <th role="columnheader" className="num">
        No.
      </th>
      <th role="columnheader">Title</th>
      <th
        role="columnheader"
        className="num"
        title="Seconds, 250 ms, 1:02.5, MM:SS:FF, or “2 beats” of the song before"
      >
        Gap
      </th>
      <th role="columnheader" className="num" title="Start mark (index 01) on the disc, MM:SS:FF">
        Start
      </th>
      <th role="columnheader" className="num">
        Length
      </th>
      <th role="columnheader" className="num" title="Where in its master the track begins">
        In
      </th>
      <th role="columnheader" className="num" title="Where in its master the track ends">
        Out
      </th>
      <th role="columnheader" className="num" title="Gain in dB">
        Gain
      </th>
      <th role="columnheader" className="num" title="Loudness with its gain, LUFS">
        LUFS
      </th>
    </tr>
  </thead>
);

/** All tracks in numbers: typed in place, for one or for several at once, reordered by dragging or by keys. */
export function Ledger({ chosen, onPlay, kept }: LedgerProps) {
  const { album, part, facts, mastersById } = useAlbum('album', 'part', 'facts', 'mastersById');
  const body = useRef<HTMLTableSectionElement>(null);
  const sensors = useSensors(useSensor(PointerSensor, DRAG_START));
  const { songs, tracks } = part;
  const last = tracks.length - 1;

  const deeds = useLedgerDeeds(chosen, kept);
  const focusRow = (id: string): void => {
    // The row that is meant may only be there after the next drawing.
    requestAnimationFrame(() => {
      const rows = [...(body.current?.querySelectorAll<HTMLTableRowElement>('tr.track') ?? [])];
      rows.find(({ dataset }) => dataset.song === id)?.focus();
    });
  };
  const moveBy = (id: string, by: -1 | 1): void => {
    deeds.moveBy(id, by);
    focusRow(id);
  };
  const dragEnd = ({ active, over }: DragEndEvent): void => {
    if (over) deeds.move(String(active.id), deeds.placeOf(String(over.id)));
  };
  /** The song so many rows further, as far as there are any. */
  const rowFrom = (id: string, by: number, rows: readonly Song[] = songs): string => {
    const at = rows.findIndex((song) => song.id === id) + by;
    return rows[Math.max(0, Math.min(rows.length - 1, at))]?.id ?? id;
  };
  const extendTo = (id: string): void => {
    chosen.extend(id);
    focusRow(id);
  };
  const rowKey = (event: KeyboardEvent<HTMLTableRowElement>, id: string): void => {
    const pressed = chord(event);
    if (event.target instanceof HTMLInputElement) {
      if (pressed !== 'ArrowUp' && pressed !== 'ArrowDown') return;
      event.preventDefault();
      walkColumn(event.currentTarget, event.target, pressed === 'ArrowUp');
      return;
    }
    if (event.target !== event.currentTarget) return;
    const actions: Readonly<Record<string, () => void>> = {
      ArrowUp: () => focusRow(rowFrom(id, -1)),
      ArrowDown: () => focusRow(rowFrom(id, 1)),
      'Shift+ArrowUp': () => extendTo(rowFrom(id, -1, tracks)),
      'Shift+ArrowDown': () => extendTo(rowFrom(id, 1, tracks)),
      'Ctrl+A': () => chosen.all(),
      Escape: () => chosen.choose(id),
      Home: () => focusRow(tracks[0]?.id ?? id),
      End: () => focusRow(tracks[last]?.id ?? id),
      Enter: () => onPlay(id),
      Delete: () => focusRow(deeds.remove(chosen.ids, id)),
      'Alt+ArrowUp': () => moveBy(id, -1),
      'Alt+ArrowDown': () => moveBy(id, 1),
    };
    const run = actions[pressed];
    if (!run) return;
    event.preventDefault();
    run();
  };
  const rowDown = (event: MouseEvent<HTMLTableRowElement>, id: string): void => {
    const several = event.ctrlKey || event.metaKey;
    if (event.button !== 0) return;
    if (!several && !event.shiftKey) {
      // A press on a field of several chosen rows is for typing into all of them; elsewhere it chooses this one alone.
      if (!(event.target instanceof HTMLInputElement)) chosen.choose(id);
      return;
    }
    event.preventDefault();
    if (several) chosen.toggle(id);
    else extendTo(id);
  };
  const actions = useStable<LedgerActions>({
    visit: chosen.visit,
    press: rowDown,
    key: rowKey,
    play: onPlay,
    type: deeds.type,
    name: deeds.name,
  });
  const inHandAt = songs.findIndex(({ id }) => id === chosen.id);
  let number = 0;
  const row = (song: Song, place: number) => {
    const placed = part.placement.songs.get(song.id);
    if (!placed) return null;
    const measurement = mastersById.get(song.region.master)?.measurement;
    return (
      <LedgerRow
        key={song.id}
        song={song}
        number={song.numbered ? ++number : null}
        inHand={song.id === chosen.id}
        chosen={chosen.ids.has(song.id)}
        near={Math.abs(place - inHandAt) < NEAR}
        {...fieldPlace(album, song.id)}
        length={intervalLength(placed)}
        out={outOf(song.region, facts)}
        lufs={measurement?.integratedLufs ?? null}
        truePeak={measurement?.truePeakDbtp ?? null}
        actions={actions}
      />
    );
  };
  const order = tracks.map(({ id }) => id).join(' ');
  // A list of its own for each order, not for each edit: all rows are drawn anew when it changes.
  const items = useMemo(() => order.split(' '), [order]);

  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={dragEnd}>
      <div>
        <table className="table ledger" role="grid" aria-label="Ledger" aria-multiselectable>
          {HEAD}
          <SortableContext items={items} strategy={verticalListSortingStrategy}>
            <tbody role="rowgroup" ref={body}>
              {songs.map(row)}
            </tbody>
          </SortableContext>
        </table>
        {chosen.ids.size > 1 && (
          <ChosenStrip
            size={chosen.ids.size}
            onLetGo={() => chosen.choose(chosen.id)}
            onRemove={() => focusRow(deeds.remove(chosen.ids, chosen.id))}
            onGain={deeds.changeGain}
          />
        )}
      </div>
    </DndContext>
  );
}

/** To the same field of the row above or below; leaving a field keeps what was typed. */
function walkColumn(row: HTMLTableRowElement, from: HTMLInputElement, up: boolean): void {
  const cell = from.closest('td')?.cellIndex ?? 0;
  const next = up ? row.previousElementSibling : row.nextElementSibling;
  const field = next instanceof HTMLTableRowElement ? next.cells[cell]?.querySelector('input') : null;
  field?.focus();
  field?.select();
}
