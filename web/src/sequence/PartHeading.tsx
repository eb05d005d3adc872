import { useSortable } from '@dnd-kit/sortable';
import { formatClock, ticks } from '@oiseau/audio/time';
import { partName } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { memo } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { headingId } from './track-places.js';
import { endOf } from './skyline.js';
import { say, t } from '../ui/messages.js';

/** Where a part begins in the track table: how long it is, how full, and what is left of it. A press turns to it. */
export const PartHeading = memo(function PartHeading({ part }: { part: Part }) {
  const { part: inHand, album, showPart } = useAlbum('part', 'album', 'showPart');
  const { setNodeRef } = useSortable({ id: headingId(part), disabled: { draggable: true } });
  const end = part.songs.length > 0 ? endOf(part) : ticks(0);
  const left = part.limit - end;
  const name = say(partName(part));
  return (
    <tr
      ref={setNodeRef}
      role="row"
      className={part.number === inHand.number ? 'part-heading in-hand' : 'part-heading'}
      onClick={() => showPart(part.number)}
    >
      <th role="rowheader" scope="rowgroup">
        <span className="part-name">{name}</span>
        {part.title !== album.title && <span className="part-title"> {part.title}</span>}
      </th>
      <td role="gridcell">
        <span className="gauge-line" aria-hidden>
          <span
            className={left < 0 ? 'over' : ''}
            style={{ width: `${Math.min(100, (100 * end) / part.limit)}%` }}
          />
        </span>
        <span className="num">{formatClock(end)}</span>
        <span className={left < 0 ? 'num text-danger' : 'num text-secondary'}>
          {left < 0
            ? t('{time} over', { time: formatClock(ticks(-left)) })
            : t('{time} left', { time: formatClock(ticks(left)) })}
        </span>
      </td>
    </tr>
  );
});
