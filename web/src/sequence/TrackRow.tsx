import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { formatMsf, ticks, ticksToSeconds, type Ticks } from '@oiseau/audio/time';
import type { Part } from '@oiseau/album/layout';
import type { Song } from '@oiseau/album/model';
import { EarOff, GripVertical, Layers2, Play } from 'lucide-react';
import { memo, useDeferredValue, type KeyboardEvent, type MouseEvent } from 'react';
import { useAlbumFact } from '../album/AlbumContext.js';
import { DraftField } from '../ui/DraftField.js';
import { clockText, formatDb } from '../ui/format.js';
import { TRACK_FIELDS, type FieldPlace, type TrackFieldName } from './track-fields.js';
import { figure, t } from '../ui/messages.js';

/** What the rows do, by the id of their song. One object for all of them that never changes, so that a row is drawn only for what it shows. */
export interface TrackRowActions {
  readonly visit: (id: string) => void;
  readonly press: (event: MouseEvent<HTMLTableRowElement>, id: string) => void;
  readonly key: (event: KeyboardEvent<HTMLTableRowElement>, id: string) => void;
  readonly play: (id: string) => void;
  readonly type: (id: string, field: TrackFieldName, text: string) => void;
  readonly name: (id: string, title: string) => void;
}

interface TrackRowProps extends FieldPlace {
  readonly song: Song;
  /** Its number in its part, from 1; null: the hidden song. */
  readonly number: number | null;
  /** What it is called in words: “track 3”, of several parts “track 2-03”. */
  readonly name: string;
  /** It opens a side, where nothing stands before it. */
  readonly opensSide: boolean;
  readonly inHand: boolean;
  readonly chosen: boolean;
  /** Close to the row in hand: what it shows of an edit is drawn at once, farther rows follow. */
  readonly near: boolean;
  readonly length: Ticks;
  /** Where it ends in its master. */
  readonly out: Ticks;
  /** As it is heard, after everything that is done to it. */
  readonly lufs: number | null;
  readonly truePeak: number | null;
  /** The edition gives it another neighbour, and the transition is not yet heard. */
  readonly unheard: boolean;
  readonly actions: TrackRowActions;
}

/** A gap as it is shown and typed: seconds, to a thousandth where it needs one. */
function gapText(gap: Ticks): string {
  const text = Number(ticksToSeconds(gap).toFixed(3)).toFixed(3).replace(/0$/, '');
  return t('{seconds} s', { seconds: figure(text.replace('-', '−')) });
}

export const TrackRow = memo(function TrackRow(props: TrackRowProps) {
  const { song, number, name, inHand, chosen, beat, isFirst, actions } = props;
  const { id, title, region } = song;
  const hidden = number === null;
  const sortable = useSortable({ id, disabled: hidden });
  const field = (of: TrackFieldName, label: string, value: string) => (
    <TrackField {...{ id, field: of, label, value, beat, isFirst, actions }} />
  );
  return (
    <tr
      role="row"
      ref={sortable.setNodeRef}
      className={`track ${chosen ? 'chosen' : ''} ${inHand ? 'in-hand' : ''} ${sortable.isDragging ? 'dragging' : ''}`}
      style={{ transform: CSS.Translate.toString(sortable.transform), transition: sortable.transition }}
      tabIndex={0}
      aria-label={t('{name}: {title}', { name, title })}
      data-song={id}
      aria-current={inHand || undefined}
      aria-selected={chosen}
      onFocus={() => actions.visit(id)}
      onMouseDown={(event) => actions.press(event, id)}
      onKeyDown={(event) => actions.key(event, id)}
    >
      <td role="gridcell" className="grip">
        {!hidden && <Grip sortable={sortable} />}
      </td>
      <td role="gridcell" className="num">
        <PlayButton {...{ id, number, name, actions }} />
      </td>
      <td role="gridcell" className="title" title={title}>
        <DraftField
          label={t('Title of {name}', { name })}
          className="plain"
          value={title}
          placeholder={t('Untitled')}
          onCommit={(text) => actions.name(id, text)}
        />
        <OtherRecordings song={song} />
      </td>
      <td role="gridcell" className="num gap-cell">
        {props.opensSide ? (
          <span className="text-secondary" title={t('A side begins with its audio')}>
            –
          </span>
        ) : (
          field(
            'gap',
            isFirst ? t('First pause') : t('Gap before {name}', { name }),
            gapText(region.gapBefore),
          )
        )}
        {props.unheard && <NotYetHeard />}
      </td>
      <td role="gridcell" className="num">
        {hidden ? (
          <span
            className="text-secondary"
            title={t('Plays in the first pause (pregap), without a start mark')}
          >
            {t('hidden')}
          </span>
        ) : (
          <StartField id={id} name={name} near={props.near} actions={actions} />
        )}
      </td>
      <td role="gridcell" className="num">
        {clockText(props.length, 1)}
      </td>
      <td role="gridcell" className="num">
        {field('in', t('In point of {name}', { name }), clockText(region.in, 2))}
      </td>
      <td role="gridcell" className="num">
        {field('out', t('Out point of {name}', { name }), clockText(props.out, 2))}
      </td>
      <td role="gridcell" className="num">
        {field('gain', t('Gain of {name}', { name }), formatDb(region.gainDb))}
      </td>
      <Loudness lufs={props.lufs} truePeak={props.truePeak} />
    </tr>
  );
});

/** What a row is dragged by. */
function Grip({ sortable }: { sortable: ReturnType<typeof useSortable> }) {
  return (
    <span
      ref={sortable.setActivatorNodeRef}
      {...sortable.attributes}
      {...sortable.listeners}
      tabIndex={-1}
      role="presentation"
      title={t('Drag to another place (Alt ↑ ↓)')}
    >
      <GripVertical size={16} aria-hidden />
    </span>
  );
}

function PlayButton({
  id,
  number,
  name,
  actions,
}: Pick<TrackRowProps, 'number' | 'name' | 'actions'> & { id: string }) {
  return (
    <button
      type="button"
      className="number-button"
      aria-label={t('Play {name}', { name })}
      title={t('Play from its start (Enter)')}
      onClick={() => actions.play(id)}
    >
      <span>{number ?? '–'}</span>
      <Play size={14} aria-hidden />
    </button>
  );
}

/** Integrated loudness, and the true peak where it is over full scale. */
function Loudness({ lufs, truePeak }: Pick<TrackRowProps, 'lufs' | 'truePeak'>) {
  const isOver = truePeak !== null && truePeak > 0;
  return (
    <td
      role="gridcell"
      className={isOver ? 'num text-danger' : 'num'}
      title={
        truePeak === null ? undefined : t('LUFS; true peak {level} dBTP', { level: formatDb(truePeak, 1, 0) })
      }
    >
      {formatDb(lufs)}
      {isOver && (
        <small className="over-peak">{t('peak +{level}', { level: formatDb(truePeak, 1, 0) })}</small>
      )}
    </td>
  );
}

/** A quiet sign beside a gap that was neither chosen nor heard. */
function NotYetHeard() {
  const words = t('Not yet heard: new neighbour in this edition');
  return (
    <span className="not-yet-heard" title={words}>
      <EarOff size={13} aria-hidden />
      <span className="visually-hidden">{words}</span>
    </span>
  );
}

/** A quiet sign that a song has other recordings, and how many. */
function OtherRecordings({ song: { alternates } }: { song: Song }) {
  const names = Object.keys(alternates);
  if (names.length === 0) return null;
  return (
    <span className="recordings" title={t('Alternate versions: {names}', { names: names.join(', ') })}>
      <Layers2 size={13} aria-hidden />
      <span className="visually-hidden">{names.join(', ')}</span>
      <span aria-hidden>{names.length}</span>
    </span>
  );
}

/** Something of the part that a song is on; a row is drawn again for that alone, and not for every edit of another part. */
function usePlaceOf<T extends number>(id: string, of: (part: Part) => T | undefined): T | undefined {
  return useAlbumFact(({ parts }) => {
    const part = parts.find(({ placement }) => placement.songs.has(id));
    return part && of(part);
  });
}

/** The start of a track: what every edit of a track before it moves, so it alone is drawn anew. */
function StartField({
  id,
  name,
  near,
  actions,
}: Pick<TrackRowProps, 'near' | 'actions'> & { id: string; name: string }) {
  const now = usePlaceOf(id, ({ disc }) => disc?.tracks.get(id)?.start);
  const audio = usePlaceOf(id, ({ placement }) => placement.songs.get(id)?.start);
  const soon = useDeferredValue(now);
  const mark = near ? now : soon;
  // A side has no marks: what counts there is where the audio begins.
  if (mark === undefined) return clockText(audio ?? ticks(0), 1);
  return (
    <TrackField
      id={id}
      field="start"
      label={t('Start of {name}', { name })}
      value={formatMsf(mark)}
      beat={undefined}
      isFirst={false}
      actions={actions}
    />
  );
}

const TrackField = memo(function TrackField({
  id,
  field,
  label,
  value,
  beat,
  isFirst,
  actions,
}: FieldPlace & {
  readonly id: string;
  readonly field: TrackFieldName;
  readonly label: string;
  readonly value: string;
  readonly actions: TrackRowActions;
}) {
  return (
    <DraftField
      label={label}
      className="plain num"
      value={value}
      fault={(text) => (text === value ? undefined : TRACK_FIELDS[field].fault(text, { beat, isFirst }))}
      onCommit={(text) => actions.type(id, field, text)}
    />
  );
});
