import { CONTRACT } from '@oiseau/api';
import { EventList } from '../access/EventList.js';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { t } from '../ui/messages.js';

/** What has happened to this album: brought in, rendered, downloaded, cleared. */
export function AlbumEventsView() {
  const { id } = useAlbum('id');
  return (
    <div className="album-events">
      <div className="view-head">
        <h2>{t('Activity')}</h2>
      </div>
      <EventList
        queryKey={['events', id]}
        load={(before) => call(CONTRACT.albumEvents, { params: { id }, query: { before } })}
        ofAlbums={false}
      />
    </div>
  );
}
