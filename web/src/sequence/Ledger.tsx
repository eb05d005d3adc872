import {
  DndContext,
  PointerSensor,
  closestCenter,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import { SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable';
import {
  editTrack,
  masterTicks,
  moveTrack,
  moveTracks,
  removeTracks,
  ticks,
  trackAtIndex,
  type Album,
} from '@oiseau/core';
import { useMemo, useRef, type KeyboardEvent, type MouseEvent } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { DRAG_AFTER_PX } from '../ui/drag.js';
import { count } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';
import { chord } from '../ui/useShortcuts.js';
import { useStable } from '../ui/useStable.js';
import { changeWords } from './change-words.js';
import { ChosenStrip } from './ChosenStrip.js';
import { fieldPlace, LEDGER_FIELDS, typed, typedWords, type LedgerFieldName } from './ledger-fields.js';
import { LedgerRow, rowName, type LedgerActions } from './LedgerRow.js';
import type { ChosenTracks } from './useChosenTracks.js';

interface LedgerProps {
  readonly chosen: ChosenTracks;
  readonly onPlay: (track: number) => void;
  /** What follows the track at `index` moves along with an edit of it, or stays where it is. */
  readonly kept: (changed: Album, index: number) => Album;
}

/** The same object every time: all rows are drawn anew when it changes. */
const DRAG_START = { activationConstraint: { distance: DRAG_AFTER_PX } };

/** Rows on either side of the one in hand that can be in sight with it. */
const NEAR = 20;

/** All tracks in numbers: typed in place, for one or for several at once, reordered by dragging or by keys. */
export function Ledger({ chosen, onPlay, kept }: LedgerProps) {
  const { album, layout, facts, mastersById, edit, undo } = useAlbum();
  const { tell } = useNotices();
  const body = useRef<HTMLTableSectionElement>(null);
  const sensors = useSensors(useSensor(PointerSensor, DRAG_START));
  const { tracks, hidden } = album;
  const last = tracks.length - 1;

  const move = (from: number, to: number): void => {
    const track = tracks[from];
    if (!track || to < 0 || to > last || from === to) return;
    chosen.choose(from);
    edit(`“${track.title}” from ${from + 1} to ${to + 1}`, (before) => moveTrack(before, from, to));
  };
  /** Moves what is chosen, or the one row alone. */
  const moveBy = (index: number, by: -1 | 1): void => {
    if (chosen.ids.size < 2) move(index, index + by);
    else
      edit(`${count(chosen.ids.size, 'track')} moved ${by < 0 ? 'up' : 'down'}`, (before) =>
        moveTracks(before, chosen.ids, by),
      );
    focusRow(Math.max(0, Math.min(last, index + by)));
  };
  const remove = (ids: ReadonlySet<string>, index: number): void => {
    const [id] = ids;
    const only = ids.size === 1 && [hidden, ...tracks].find((track) => track?.id === id);
    const what = only ? `“${only.title}”` : count(ids.size, 'track');
    edit(`${what} taken out`, (before) => removeTracks(before, ids));
    tell(
      only
        ? `${what} was taken out of the album; its master stays.`
        : `${what} were taken out of the album; their masters stay.`,
      { label: 'Undo', run: undo },
    );
    focusRow(Math.max(0, Math.min(index, tracks.length - ids.size - 1)));
  };
  /** What is typed into a chosen row is meant for all that are chosen. */
  const type = (index: number, field: LedgerFieldName, text: string): void => {
    const id = trackAtIndex(album, index)?.id ?? '';
    const targets = chosen.ids.has(id) ? indexesOf(album, chosen.ids) : [index];
    const changed = typed(album, targets, field, text, { layout, facts });
    if (JSON.stringify(changed) === JSON.stringify(album)) return;
    const final = kept(changed, Math.max(...targets));
    const words = `${LEDGER_FIELDS[field].what} ${targets.length} tracks → ${typedWords(field, text)}`;
    edit(targets.length > 1 ? words : changeWords, () => final);
  };
  const focusRow = (index: number): void => {
    // The row that is meant may only be there after the next drawing.
    requestAnimationFrame(() =>
      body.current?.querySelectorAll<HTMLTableRowElement>('tr.track')[index + (hidden ? 1 : 0)]?.focus(),
    );
  };
  const dragEnd = ({ active, over }: DragEndEvent): void => {
    const place = (id: unknown): number => tracks.findIndex((track) => track.id === id);
    if (over) move(place(active.id), place(over.id));
  };
  const extendTo = (index: number): void => {
    chosen.extend(Math.max(0, Math.min(last, index)));
    focusRow(Math.max(0, Math.min(last, index)));
  };
  const rowKey = (event: KeyboardEvent<HTMLTableRowElement>, index: number): void => {
    const pressed = chord(event);
    if (event.target instanceof HTMLInputElement) {
      if (pressed !== 'ArrowUp' && pressed !== 'ArrowDown') return;
      event.preventDefault();
      walkColumn(event.currentTarget, event.target, pressed === 'ArrowUp');
      return;
    }
    if (event.target !== event.currentTarget) return;
    const actions: Readonly<Record<string, () => void>> = {
      ArrowUp: () => focusRow(Math.max(hidden ? -1 : 0, index - 1)),
      ArrowDown: () => focusRow(Math.min(last, index + 1)),
      'Shift+ArrowUp': () => extendTo(index - 1),
      'Shift+ArrowDown': () => extendTo(index + 1),
      'Ctrl+A': () => chosen.all(),
      Escape: () => chosen.choose(index),
      Home: () => focusRow(0),
      End: () => focusRow(last),
      Enter: () => onPlay(index),
      Delete: () => remove(chosen.ids, index),
      'Alt+ArrowUp': () => moveBy(index, -1),
      'Alt+ArrowDown': () => moveBy(index, 1),
    };
    const run = actions[pressed];
    if (!run) return;
    event.preventDefault();
    run();
  };
  const rowDown = (event: MouseEvent<HTMLTableRowElement>, index: number): void => {
    const several = event.ctrlKey || event.metaKey;
    if (event.button !== 0) return;
    if (!several && !event.shiftKey) {
      // A press on a field of several chosen rows is for typing into all of them; elsewhere it chooses this one alone.
      if (!(event.target instanceof HTMLInputElement)) chosen.choose(index);
      return;
    }
    event.preventDefault();
    if (several) chosen.toggle(index);
    else extendTo(index);
  };
  const actions = useStable<LedgerActions>({
    visit: chosen.visit,
    press: rowDown,
    key: rowKey,
    play: onPlay,
    type,
    name: (id, index, title) => {
      const was = trackAtIndex(album, index)?.title ?? '';
      edit(`title of ${rowName(index)} “${was}” → “${title}”`, (before) => editTrack(before, id, { title }));
    },
  });
  const row = (index: number) => {
    const track = trackAtIndex(album, index);
    const placed = index < 0 ? layout.hidden : layout.tracks[index];
    if (!track || !placed) return null;
    const master = facts.get(track.master);
    const measurement = mastersById.get(track.master)?.measurement;
    return (
      <LedgerRow
        key={track.id}
        track={track}
        index={index}
        inHand={index === chosen.index}
        chosen={chosen.ids.has(track.id)}
        near={Math.abs(index - chosen.index) < NEAR}
        {...fieldPlace(album, index)}
        length={ticks(placed.audioEnd - placed.audioStart)}
        out={track.out ?? (master ? masterTicks(master) : track.in)}
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
          <SortableContext items={items} strategy={verticalListSortingStrategy}>
            <tbody role="rowgroup" ref={body}>
              {row(-1)}
              {tracks.map((_, index) => row(index))}
            </tbody>
          </SortableContext>
        </table>
        {chosen.ids.size > 1 && (
          <ChosenStrip
            size={chosen.ids.size}
            onLetGo={() => chosen.choose(chosen.index)}
            onRemove={() => remove(chosen.ids, chosen.index)}
            onGain={(by) =>
              edit(
                `gain of ${chosen.ids.size} tracks ${by > 0 ? 'up' : 'down'}`,
                (before) => louder(before, chosen.ids, by),
                `gain ${[...chosen.ids].join(' ')} ${Math.sign(by)}`,
              )
            }
          />
        )}
      </div>
    </DndContext>
  );
}

/** Places of the chosen tracks, from the start of the disc; −1 is the hidden song. */
function indexesOf({ hidden, tracks }: Album, ids: ReadonlySet<string>): number[] {
  const first = hidden && ids.has(hidden.id) ? [-1] : [];
  return [...first, ...tracks.flatMap(({ id }, i) => (ids.has(id) ? [i] : []))];
}

/** All of some tracks by some decibels, within −48 to 24. */
const louder = (album: Album, ids: ReadonlySet<string>, by: number): Album =>
  indexesOf(album, ids).reduce((changed, index) => {
    const track = trackAtIndex(changed, index);
    if (!track) return changed;
    return editTrack(changed, track.id, { gainDb: Math.max(-48, Math.min(24, track.gainDb + by)) });
  }, album);

/** To the same field of the row above or below; leaving a field keeps what was typed. */
function walkColumn(row: HTMLTableRowElement, from: HTMLInputElement, up: boolean): void {
  const cell = from.closest('td')?.cellIndex ?? 0;
  const next = up ? row.previousElementSibling : row.nextElementSibling;
  const field = next instanceof HTMLTableRowElement ? next.cells[cell]?.querySelector('input') : null;
  field?.focus();
  field?.select();
}
