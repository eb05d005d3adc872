import {
  DndContext,
  PointerSensor,
  closestCenter,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import { SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { intervalLength } from '@oiseau/audio/time';
import { outOf, tracksOf, type Song } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { useDeferredValue, useMemo } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { useHeardFigures } from '../album/SoundsContext.js';
import { useNewNeighbours } from '../album/useNewNeighbours.js';
import { DRAG_AFTER_PX } from '../ui/drag.js';
import { useStable } from '../ui/useStable.js';
import { ChosenStrip } from './ChosenStrip.js';
import { fieldPlace } from './track-fields.js';
import { numberedName } from '../album/song-name.js';
import { placeWords } from './place-words.js';
import { TrackRow, type TrackRowActions } from './TrackRow.js';
import { PartHeading } from './PartHeading.js';
import { droppedAt, headingId } from './track-places.js';
import type { ChosenSongs } from './useChosenSongs.js';
import { useTrackActions, type KeepAfter } from './useTrackActions.js';
import { useTrackRows } from './useTrackRows.js';
import { DRAG_WORDS } from '../ui/drag-words.js';
import { t } from '../ui/messages.js';

interface TrackTableProps {
  readonly chosen: ChosenSongs;
  readonly onPlay: (id: string) => void;
  readonly kept: KeepAfter;
}

/** The same object every time: all rows are drawn anew when it changes. */
const DRAG_START = { activationConstraint: { distance: DRAG_AFTER_PX } };

/** Rows on either side of the one in hand that can be in sight with it. */
const NEAR = 20;

/** The same element every time. */
const HEAD = (
  <thead role="rowgroup">
    <tr role="row">
      <th role="columnheader" aria-label={t('Drag')} />
      <th role="columnheader" className="num">
        {t('No.')}
      </th>
      <th role="columnheader">{t('Title')}</th>
      <th
        role="columnheader"
        className="num"
        title={t('Seconds, 250 ms, 1:02.5, MM:SS:FF, or “2 beats” of the previous track')}
      >
        {t('Gap')}
      </th>
      <th role="columnheader" className="num" title={t('Start mark (index 01) on the disc, MM:SS:FF')}>
        {t('Start')}
      </th>
      <th role="columnheader" className="num">
        {t('Length')}
      </th>
      <th role="columnheader" className="num" title={t('In point in the master')}>
        {t('In')}
      </th>
      <th role="columnheader" className="num" title={t('Out point in the master')}>
        {t('Out')}
      </th>
      <th role="columnheader" className="num" title={t('Gain in dB')}>
        {t('Gain')}
      </th>
      <th role="columnheader" className="num" title={t('Loudness including gain, LUFS')}>
        LUFS
      </th>
    </tr>
  </thead>
);

/** All tracks in numbers: typed in place, for one or for several at once, reordered by dragging or by keys; a heading where a part begins. */
export function TrackTable({ chosen, onPlay, kept }: TrackTableProps) {
  const { album, parts, facts } = useAlbum('album', 'parts', 'facts');
  const figures = useHeardFigures();
  const unheard = useNewNeighbours().ids;
  const sensors = useSensors(useSensor(PointerSensor, DRAG_START));
  const all = useMemo(() => ({ songs: album.songs, tracks: tracksOf(album) }), [album]);
  const trackActions = useTrackActions(chosen, kept);
  const rows = useTrackRows(all, chosen, trackActions, onPlay);
  const dragEnd = ({ active, over }: DragEndEvent): void => {
    const place = over && droppedAt(parts, String(active.id), String(over.id));
    if (place) trackActions.move(String(active.id), place);
  };
  const actions = useStable<TrackRowActions>({
    visit: chosen.visit,
    press: rows.press,
    key: rows.key,
    play: onPlay,
    type: trackActions.type,
    name: trackActions.name,
  });
  // What is in sight is drawn first, the rest of a long album right after.
  const whole = useDeferredValue(true, false);
  const inHandAt = all.songs.findIndex(({ id }) => id === chosen.id);
  const several = parts.length > 1;
  let place = -1;
  const row = (part: Part, song: Song) => {
    place++;
    if (!whole && Math.abs(place - Math.max(0, inHandAt)) >= NEAR)
      return <tr key={song.id} role="row" className="track" />;
    const placed = part.placement.songs.get(song.id);
    if (!placed) return null;
    const heard = figures.get(song.id);
    const number = song.numbered ? part.tracks.indexOf(song) + 1 : null;
    return (
      <TrackRow
        key={song.id}
        song={song}
        number={number}
        name={numberedName(number && placeWords(part, number - 1))}
        opensSide={part.kind === 'side' && song === part.songs[0]}
        inHand={song.id === chosen.id}
        chosen={chosen.ids.has(song.id)}
        near={Math.abs(place - inHandAt) < NEAR}
        {...fieldPlace(album, song.id)}
        length={intervalLength(placed)}
        out={outOf(song.region, facts)}
        lufs={heard?.integratedLufs ?? null}
        truePeak={heard?.truePeakDbtp ?? null}
        unheard={unheard.has(song.id)}
        actions={actions}
      />
    );
  };
  const order = parts
    .flatMap((part) => [...(several ? [headingId(part)] : []), ...part.tracks.map(({ id }) => id)])
    .join(' ');
  // A list of its own for each order, not for each edit: all rows are drawn anew when it changes.
  const items = useMemo(() => order.split(' '), [order]);

  return (
    <DndContext
      accessibility={DRAG_WORDS}
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={dragEnd}
    >
      <div>
        <table className="table track-table" role="grid" aria-label={t('Tracks')} aria-multiselectable>
          {HEAD}
          <SortableContext items={items} strategy={verticalListSortingStrategy}>
            <tbody role="rowgroup" ref={rows.body}>
              {parts.flatMap((part) => [
                several && <PartHeading key={headingId(part)} part={part} />,
                ...part.songs.map((song) => row(part, song)),
              ])}
            </tbody>
          </SortableContext>
        </table>
        {chosen.ids.size > 1 && (
          <ChosenStrip
            size={chosen.ids.size}
            onLetGo={() => chosen.choose(chosen.id)}
            onRemove={() => rows.focus(trackActions.remove(chosen.ids, chosen.id))}
            onGain={trackActions.changeGain}
          />
        )}
      </div>
    </DndContext>
  );
}
