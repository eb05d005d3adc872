import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import {
  editTrack,
  formatClock,
  formatMsf,
  parseTime,
  ticks,
  ticksToSeconds,
  type Ticks,
  type Track,
} from '@oiseau/core';
import { GripVertical, Play, X } from 'lucide-react';
import type { KeyboardEvent } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { DraftField } from '../ui/DraftField.js';
import { formatDb } from '../ui/format.js';

interface LedgerRowProps {
  readonly track: Track;
  readonly index: number;
  readonly chosen: boolean;
  readonly onChoose: () => void;
  readonly onPlay: () => void;
  readonly onRemove: () => void;
  readonly onKeyDown: (event: KeyboardEvent<HTMLTableRowElement>) => void;
}

/** A gap as it is shown and typed: seconds, to a thousandth where it needs one. */
function gapText(gap: Ticks): string {
  const text = Number(ticksToSeconds(gap).toFixed(3)).toFixed(3).replace(/0$/, '');
  return `${text.replace('-', '−')} s`;
}

/** A day is longer than any disc: a slip of the keyboard, not a gap. */
const LONGEST_GAP_S = 86_400;

function gapFault(text: string, first: boolean): string | undefined {
  const gap = parseTime(text);
  if (gap === undefined) return 'Seconds, 250 ms, 1:02.5 or MM:SS:FF.';
  if (first && gap < 0) return 'Nothing stands before the first pause.';
  return Math.abs(ticksToSeconds(gap)) > LONGEST_GAP_S ? 'That is longer than a day.' : undefined;
}

export function LedgerRow({ track, index, chosen, onChoose, onPlay, onRemove, onKeyDown }: LedgerRowProps) {
  const { edit, layout, mastersById } = useAlbum();
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } =
    useSortable({ id: track.id });
  const placed = layout.tracks[index];
  const measurement = mastersById.get(track.master)?.measurement;
  const withGain = (level: number | null | undefined): number | null =>
    level === null || level === undefined ? null : level + track.gainDb;
  const name = `track ${index + 1}`;
  return (
    <tr
      ref={setNodeRef}
      className={`track ${chosen ? 'chosen' : ''} ${isDragging ? 'dragging' : ''}`}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      tabIndex={0}
      aria-label={`${name}: ${track.title}`}
      aria-current={chosen || undefined}
      onFocus={onChoose}
      onKeyDown={onKeyDown}
    >
      <td className="grip">
        <span
          ref={setActivatorNodeRef}
          {...attributes}
          {...listeners}
          tabIndex={-1}
          role="presentation"
          title="Drag to another place (Alt ↑ ↓)"
        >
          <GripVertical size={16} aria-hidden />
        </span>
      </td>
      <td className="num track-number">{index + 1}</td>
      <td>
        <button
          type="button"
          className="row-button"
          aria-label={`Play ${name}`}
          title="Play from its start"
          onClick={onPlay}
        >
          <Play size={14} aria-hidden />
        </button>
      </td>
      <td className="title">
        <DraftField
          label={`Title of ${name}`}
          className="plain"
          value={track.title}
          placeholder="Untitled"
          onCommit={(title) =>
            edit(`title of track ${index + 1} “${track.title}” → “${title}”`, (album) =>
              editTrack(album, track.id, { title }),
            )
          }
        />
      </td>
      <td className="num gap">
        <DraftField
          label={index === 0 ? 'First pause' : `Gap before ${name}`}
          className="plain num"
          value={gapText(track.gapBefore)}
          fault={(text) => gapFault(text, index === 0)}
          onCommit={(text) => {
            const gapBefore = parseTime(text);
            if (gapBefore === undefined || gapBefore === track.gapBefore) return;
            edit(`gap before “${track.title}” ${gapText(track.gapBefore)} → ${gapText(gapBefore)}`, (album) =>
              editTrack(album, track.id, { gapBefore }),
            );
          }}
        />
      </td>
      <td className="num">{placed && formatMsf(placed.startMark)}</td>
      <td className="num">{placed && formatClock(ticks(placed.audioEnd - placed.audioStart), 1)}</td>
      <td className="num">
        {formatDb(withGain(measurement?.integratedLufs))} <span className="unit">LUFS</span>
      </td>
      <td className="num">
        {formatDb(withGain(measurement?.truePeakDbtp))} <span className="unit">dBTP</span>
      </td>
      <td>
        <button
          type="button"
          className="row-button"
          aria-label={`Take ${name} out`}
          title="Take out of the album (Delete)"
          onClick={onRemove}
        >
          <X size={14} aria-hidden />
        </button>
      </td>
    </tr>
  );
}
