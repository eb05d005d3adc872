import type { CellEdit } from '@oiseau/formats/tags';
import type { CSSProperties } from 'react';
import { GridRow, type ShownColumn } from './GridRow.js';
import type { GridState } from './grid-state.js';
import { useGridActions } from './useGridActions.js';
import { useGridCells } from './useGridCells.js';
import { t } from '../../ui/messages.js';

interface TextGridProps {
  readonly columns: readonly ShownColumn[];
  readonly state: GridState;
  readonly onState: (state: GridState) => void;
  /** Writes cells, as one step of undo with these words. */
  readonly onWrite: (edits: readonly CellEdit[], words: string) => void;
}

/** Tracks down, fields across: walks, types, fills, copies and pastes like a spreadsheet. */
export function TextGrid({ columns, state, onState, onWrite }: TextGridProps) {
  const cells = useGridCells(columns, state, onWrite);
  const { album, tableRow, rows, block } = cells;
  const { at } = state;
  const { field, actions } = useGridActions(columns.length, state, cells, onState);
  const template = `2.6rem ${columns.map(({ wide }) => `minmax(0, ${wide}fr)`).join(' ')}`;
  return (
    <div
      className="text-grid"
      role="grid"
      aria-label={t('Text and codes')}
      aria-multiselectable
      style={{ '--columns': template } as CSSProperties}
    >
      <div className="grid-row grid-head" role="row">
        <span role="columnheader" className="num">
          {t('No.')}
        </span>
        {columns.map(({ name }) => (
          <span key={name} role="columnheader">
            {name}
          </span>
        ))}
      </div>
      {Array.from({ length: rows }, (_, row) => {
        const inBlock = row >= block.top && row <= block.bottom;
        const inHand = row === at.row;
        return (
          <GridRow
            key={tableRow(row) ?? 'album'}
            album={album}
            of={tableRow(row)}
            row={row}
            columns={columns}
            left={inBlock ? block.left : -1}
            right={inBlock ? block.right : -1}
            column={inHand ? at.column : -1}
            draft={inHand ? state.draft : null}
            field={inHand ? field : null}
            actions={actions}
          />
        );
      })}
    </div>
  );
}
