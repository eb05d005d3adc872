import type { Part } from '@oiseau/album/layout';
import type { Song } from '@oiseau/album/model';
import { useRef, type KeyboardEvent, type MouseEvent } from 'react';
import { chord } from '../ui/useShortcuts.js';
import type { ChosenSongs } from './useChosenSongs.js';
import type { TrackActions } from './useTrackActions.js';

/** How the rows of the track table are walked, chosen and acted on by key and by press. */
export function useTrackRows(
  { songs, tracks }: Pick<Part, 'songs' | 'tracks'>,
  chosen: ChosenSongs,
  trackActions: TrackActions,
  onPlay: (id: string) => void,
) {
  /** The rows lie in it. */
  const body = useRef<HTMLTableSectionElement>(null);
  const focus = (id: string): void => {
    // The row that is meant may only be there after the next drawing.
    requestAnimationFrame(() => {
      const rows = [...(body.current?.querySelectorAll<HTMLTableRowElement>('tr.track') ?? [])];
      rows.find(({ dataset }) => dataset.song === id)?.focus();
    });
  };
  const moveBy = (id: string, by: -1 | 1): void => {
    trackActions.moveBy(id, by);
    focus(id);
  };
  /** The song so many rows further, as far as there are any. */
  const rowFrom = (id: string, by: number, rows: readonly Song[] = songs): string => {
    const at = rows.findIndex((song) => song.id === id) + by;
    return rows[Math.max(0, Math.min(rows.length - 1, at))]?.id ?? id;
  };
  const extendTo = (id: string): void => {
    chosen.extend(id);
    focus(id);
  };
  const key = (event: KeyboardEvent<HTMLTableRowElement>, id: string): void => {
    const pressed = chord(event);
    if (event.target instanceof HTMLInputElement) {
      if (pressed !== 'ArrowUp' && pressed !== 'ArrowDown') return;
      event.preventDefault();
      walkColumn(event.currentTarget, event.target, pressed === 'ArrowUp');
      return;
    }
    if (event.target !== event.currentTarget) return;
    const actions: Readonly<Record<string, () => void>> = {
      ArrowUp: () => focus(rowFrom(id, -1)),
      ArrowDown: () => focus(rowFrom(id, 1)),
      'Shift+ArrowUp': () => extendTo(rowFrom(id, -1, tracks)),
      'Shift+ArrowDown': () => extendTo(rowFrom(id, 1, tracks)),
      'Ctrl+A': () => chosen.all(),
      Escape: () => chosen.choose(id),
      Home: () => focus(tracks[0]?.id ?? id),
      End: () => focus(tracks.at(-1)?.id ?? id),
      Enter: () => onPlay(id),
      Delete: () => focus(trackActions.remove(chosen.ids, id)),
      'Alt+ArrowUp': () => moveBy(id, -1),
      'Alt+ArrowDown': () => moveBy(id, 1),
    };
    const run = actions[pressed];
    if (!run) return;
    event.preventDefault();
    run();
  };
  const press = (event: MouseEvent<HTMLTableRowElement>, id: string): void => {
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
  return { body, focus, key, press };
}

/** To the same field of the row above or below; leaving a field keeps what was typed. */
function walkColumn(row: HTMLTableRowElement, from: HTMLInputElement, up: boolean): void {
  const cell = from.closest('td')?.cellIndex ?? 0;
  const beside = (of: Element): Element | null => (up ? of.previousElementSibling : of.nextElementSibling);
  let next = beside(row);
  while (next && !next.classList.contains('track')) next = beside(next);
  const field = next instanceof HTMLTableRowElement ? next.cells[cell]?.querySelector('input') : null;
  field?.focus();
  field?.select();
}
