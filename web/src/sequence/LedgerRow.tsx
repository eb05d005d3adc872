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

/** Decibels as typed: `-1.5`, `−1,5 dB`, `+2`. */
function gainOf(text: string): number | undefined {
  const found = /^([+-]?\d+(?:\.\d+)?)\s*(?:dB)?$/i.exec(text.trim().replace(/[−–]/, '-').replace(',', '.'));
  const gain = Number(found?.[1]);
  return found && gain >= -48 && gain <= 24 ? gain : undefined;
}

export function LedgerRow({ track, index, chosen, onChoose, onPlay, onRemove, onKeyDown }: LedgerRowProps) {
  const { edit, layout, mastersById } = useAlbum();
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } =
    useSortable({ id: track.id });
  const placed = layout.tracks[index];
  const measurement = mastersById.get(track.master)?.measurement;
  const withGain = (level: number | null | undefined): number | null =>
    level === null || level === undefined ? null : level + track.gainDb;
  const peak = withGain(measurement?.truePeakDbtp);
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
      <td className="num gain">
        <DraftField
          label={`Gain of ${name}`}
          className="plain num"
          value={formatDb(track.gainDb)}
          fault={(text) => (gainOf(text) === undefined ? 'Decibels from −48 to 24.' : undefined)}
          onCommit={(text) => {
            const gainDb = gainOf(text);
            if (gainDb === undefined || gainDb === track.gainDb) return;
            edit(`gain of “${track.title}” ${formatDb(track.gainDb)} → ${formatDb(gainDb)} dB`, (album) =>
              editTrack(album, track.id, { gainDb }),
            );
          }}
        />
      </td>
      <td
        className={peak !== null && peak > 0 ? 'num text-danger' : 'num'}
        title={peak === null ? undefined : `LUFS; true peak ${formatDb(peak)} dBTP`}
      >
        {formatDb(withGain(measurement?.integratedLufs))}
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
