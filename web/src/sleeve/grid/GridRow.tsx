import {
  ALBUM_ROW,
  cellFault,
  cellText,
  hasCell,
  inheritedText,
  type TableColumn,
  type TableRow,
} from '@oiseau/formats/tags';
import type { Album } from '@oiseau/album/model';
import { memo, type ClipboardEvent, type KeyboardEvent, type RefObject } from 'react';
import { rowLabel, rowName } from '../row-words.js';
import type { Place } from './grid-state.js';
import { sayFault, t } from '../../ui/messages.js';

/** A column as it is shown. */
export interface ShownColumn extends TableColumn {
  readonly name: string;
  /** A share of the width. */
  readonly wide: number;
}

/** What the cells do; one object that never changes. */
export interface GridActions {
  readonly press: (place: Place, extend: boolean) => void;
  readonly sweep: (place: Place) => void;
  readonly open: (place: Place) => void;
  readonly type: (text: string) => void;
  readonly key: (event: KeyboardEvent<HTMLInputElement>) => void;
  readonly copy: (event: ClipboardEvent<HTMLInputElement>) => void;
  readonly cut: (event: ClipboardEvent<HTMLInputElement>) => void;
  readonly paste: (event: ClipboardEvent<HTMLInputElement>) => void;
  readonly select: () => void;
  readonly leave: () => void;
}

interface GridRowProps {
  readonly album: Album;
  readonly of: TableRow;
  /** Its place in the grid. */
  readonly row: number;
  readonly columns: readonly ShownColumn[];
  /** Columns that are chosen, −1 for none. */
  readonly left: number;
  readonly right: number;
  /** Column of the cell in hand, −1 when it is in another row. */
  readonly column: number;
  readonly draft: string | null;
  readonly field: RefObject<HTMLInputElement | null> | null;
  readonly actions: GridActions;
}

/** One row of the grid; what is empty and inherited stands there pale. */
export const GridRow = memo(function GridRow(props: GridRowProps) {
  const { album, of, row, columns, left, right, column: inHand, draft, field, actions } = props;
  return (
    <div className={`grid-row ${of === ALBUM_ROW ? 'of-album' : ''}`} role="row">
      <span role="rowheader" className="num">
        {rowLabel(album, of)}
      </span>
      {columns.map((column, i) => {
        const text = cellText(album, of, column);
        const inherited = text === '' ? inheritedText(album, of, column) : '';
        const name = t('{name} of {rowName}', { name: column.name, rowName: rowName(album, of) });
        const fault = sayFault(cellFault(column, i === inHand ? (draft ?? text) : text));
        const chosen = i >= left && i <= right;
        const there = hasCell(of, column);
        const place = { row, column: i };
        return (
          <span
            key={column.name}
            role="gridcell"
            aria-selected={chosen}
            className={`cell ${chosen ? 'chosen' : ''} ${i === inHand ? 'in-hand' : ''} ${fault ? 'faulty' : ''} ${there ? '' : 'missing'}`}
            title={fault ?? (inherited ? t('Same as the album') : undefined)}
            onPointerDown={(event) => {
              if (event.button !== 0 || event.target instanceof HTMLInputElement) return;
              event.preventDefault();
              actions.press(place, event.shiftKey);
            }}
            onPointerEnter={(event) => {
              if (event.buttons === 1) actions.sweep(place);
            }}
            onDoubleClick={() => actions.open(place)}
          >
            {i === inHand ? (
              <input
                ref={field}
                aria-label={name}
                readOnly={!there}
                aria-invalid={fault ? true : undefined}
                autoComplete="off"
                spellCheck={false}
                placeholder={inherited}
                value={draft ?? text}
                onChange={({ target }) => actions.type(target.value)}
                onFocus={actions.select}
                onBlur={actions.leave}
                onKeyDown={actions.key}
                onCopy={actions.copy}
                onCut={actions.cut}
                onPaste={actions.paste}
              />
            ) : inherited ? (
              <i>{inherited}</i>
            ) : (
              text
            )}
          </span>
        );
      })}
    </div>
  );
});
