import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { formatClock, formatMsf, ticksToSeconds, type Ticks, type Track } from '@oiseau/core';
import { GripVertical, Play } from 'lucide-react';
import { memo, useDeferredValue, type KeyboardEvent, type MouseEvent } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { DraftField } from '../ui/DraftField.js';
import { formatDb } from '../ui/format.js';
import { LEDGER_FIELDS, type FieldPlace, type LedgerFieldName } from './ledger-fields.js';

/** What the rows do, by index. One object for all of them that never changes, so that a row is drawn only for what it shows. */
export interface LedgerActions {
  readonly visit: (index: number) => void;
  readonly press: (event: MouseEvent<HTMLTableRowElement>, index: number) => void;
  readonly key: (event: KeyboardEvent<HTMLTableRowElement>, index: number) => void;
  readonly play: (index: number) => void;
  readonly type: (index: number, field: LedgerFieldName, text: string) => void;
  readonly name: (id: string, index: number, title: string) => void;
}

interface LedgerRowProps extends FieldPlace {
  readonly track: Track;
  /** −1: the hidden song. */
  readonly index: number;
  readonly inHand: boolean;
  readonly chosen: boolean;
  /** Close to the row in hand: what it shows of an edit is drawn at once, farther rows follow. */
  readonly near: boolean;
  readonly length: Ticks;
  /** Where the track ends in its master. */
  readonly out: Ticks;
  readonly lufs: number | null;
  readonly truePeak: number | null;
  readonly actions: LedgerActions;
}

/** A gap as it is shown and typed: seconds, to a thousandth where it needs one. */
function gapText(gap: Ticks): string {
  const text = Number(ticksToSeconds(gap).toFixed(3)).toFixed(3).replace(/0$/, '');
  return `${text.replace('-', '−')} s`;
}

/** A row in words. */
export const rowName = (index: number): string => (index < 0 ? 'the hidden song' : `track ${index + 1}`);

export const LedgerRow = memo(function LedgerRow(props: LedgerRowProps) {
  const { track, index, inHand, chosen, beat, isFirst, actions } = props;
  const sortable = useSortable({ id: track.id, disabled: index < 0 });
  const hidden = index < 0;
  const name = rowName(index);
  const withGain = (level: number | null): number | null => (level === null ? null : level + track.gainDb);
  const peak = withGain(props.truePeak);
  const field = (of: LedgerFieldName, label: string, value: string) => (
    <LedgerField {...{ index, field: of, label, value, beat, isFirst, actions }} />
  );
  return (
    <tr
      role="row"
      ref={sortable.setNodeRef}
      className={`track ${chosen ? 'chosen' : ''} ${inHand ? 'in-hand' : ''} ${sortable.isDragging ? 'dragging' : ''}`}
      style={{ transform: CSS.Translate.toString(sortable.transform), transition: sortable.transition }}
      tabIndex={0}
      aria-label={`${name}: ${track.title}`}
      aria-current={inHand || undefined}
      aria-selected={chosen}
      onFocus={() => actions.visit(index)}
      onMouseDown={(event) => actions.press(event, index)}
      onKeyDown={(event) => actions.key(event, index)}
    >
      <td role="gridcell" className="grip">
        {!hidden && (
          <span
            ref={sortable.setActivatorNodeRef}
            {...sortable.attributes}
            {...sortable.listeners}
            tabIndex={-1}
            role="presentation"
            title="Drag to another place (Alt ↑ ↓)"
          >
            <GripVertical size={16} aria-hidden />
          </span>
        )}
      </td>
      <td role="gridcell" className="num">
        <button
          type="button"
          className="number-button"
          aria-label={`Play ${name}`}
          title="Play from its start (Enter)"
          onClick={() => actions.play(index)}
        >
          <span>{hidden ? '–' : index + 1}</span>
          <Play size={14} aria-hidden />
        </button>
      </td>
      <td role="gridcell" className="title" title={track.title}>
        <DraftField
          label={`Title of ${name}`}
          className="plain"
          value={track.title}
          placeholder="Untitled"
          onCommit={(title) => actions.name(track.id, index, title)}
        />
      </td>
      <td role="gridcell" className="num">
        {field('gap', isFirst ? 'First pause' : `Gap before ${name}`, gapText(track.gapBefore))}
      </td>
      <td role="gridcell" className="num">
        {hidden ? (
          <span className="text-secondary" title="It sounds in the first pause and has no start mark">
            hidden
          </span>
        ) : (
          <StartField index={index} near={props.near} actions={actions} />
        )}
      </td>
      <td role="gridcell" className="num">
        {formatClock(props.length, 1)}
      </td>
      <td role="gridcell" className="num">
        {field('in', `In point of ${name}`, formatClock(track.in, 2))}
      </td>
      <td role="gridcell" className="num">
        {field('out', `Out point of ${name}`, formatClock(props.out, 2))}
      </td>
      <td role="gridcell" className="num">
        {field('gain', `Gain of ${name}`, formatDb(track.gainDb))}
      </td>
      <td
        role="gridcell"
        className={peak !== null && peak > 0 ? 'num text-danger' : 'num'}
        title={peak === null ? undefined : `LUFS; true peak ${formatDb(peak)} dBTP`}
      >
        {formatDb(withGain(props.lufs))}
      </td>
    </tr>
  );
});

/** The start of a track: what every edit of a track before it moves, so it alone is drawn anew. */
function StartField({ index, near, actions }: Pick<LedgerRowProps, 'index' | 'near' | 'actions'>) {
  const now = useAlbum().layout.tracks[index]?.startMark;
  const soon = useDeferredValue(now);
  const mark = near ? now : soon;
  if (mark === undefined) return null;
  return (
    <LedgerField
      index={index}
      field="start"
      label={`Start of ${rowName(index)}`}
      value={formatMsf(mark)}
      beat={undefined}
      isFirst={false}
      actions={actions}
    />
  );
}

const LedgerField = memo(function LedgerField({
  index,
  field,
  label,
  value,
  beat,
  isFirst,
  actions,
}: FieldPlace & {
  readonly index: number;
  readonly field: LedgerFieldName;
  readonly label: string;
  readonly value: string;
  readonly actions: LedgerActions;
}) {
  return (
    <DraftField
      label={label}
      className="plain num"
      value={value}
      fault={(text) => (text === value ? undefined : LEDGER_FIELDS[field].fault(text, { beat, isFirst }))}
      onCommit={(text) => actions.type(index, field, text)}
    />
  );
});
