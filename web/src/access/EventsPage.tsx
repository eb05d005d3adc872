import { CONTRACT } from '@oiseau/api';
import { BookOpen } from 'lucide-react';
import { Link } from 'react-router';
import { call } from '../api/client.js';
import { EventList } from './EventList.js';
import { t } from '../ui/messages.js';

/** What has happened in this installation. */
export function EventsPage() {
  return (
    <main className="shelf">
      <header className="shelf-header">
        <h1>{t('Activity')}</h1>
        <span className="flex-grow-1" />
        <Link to="/">
          <BookOpen size={16} aria-hidden /> {t('Back to the Shelf')}
        </Link>
      </header>
      <EventList
        queryKey={['events']}
        load={(before) => call(CONTRACT.events, { query: { before } })}
        ofAlbums
      />
    </main>
  );
}
