import { songOf } from '@oiseau/album/model';
import { takeAlternates } from '@oiseau/album/edits';
import { Layers2 } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { songName } from '../album/song-name.js';
import { useAlternateOffers } from './useAlternateOffers.js';
import { t } from '../ui/messages.js';

/** Rows that are shown before the rest is told as a number. */
const SHOWN = 6;

/** Files that look like other recordings of songs that are here: offered, never taken by themselves. */
export function AlternateOffers() {
  const { album, parts, mastersById, edit } = useAlbum('album', 'parts', 'mastersById', 'edit');
  const { offers, decline } = useAlternateOffers();
  if (offers.length === 0) return null;
  const more = offers.length - SHOWN;
  return (
    <section className="alternate-offers" aria-label={t('Alternate versions found')}>
      <Layers2 size={18} aria-hidden />
      <div>
        <p>
          {t(
            '{count, plural, one {One file looks like an alternate version of a track} other {# files look like alternate versions of tracks}} in this album. An alternate version shares all settings with its track and stays in sync with it.',
            { count: offers.length },
          )}
        </p>
        <ul>
          {offers.slice(0, SHOWN).map(({ song, name, master }) => (
            <li key={master}>
              <span className="file">{mastersById.get(master)?.name}</span> → {songName(parts, song)}{' '}
              <span className="song">{songOf(album, song)?.title}</span>, <b>{name}</b>
            </li>
          ))}
          {more > 0 && <li className="text-secondary">{t('and {more} more', { more })}</li>}
        </ul>
        <Button
          size="sm"
          onClick={() =>
            edit(
              t('{count, plural, one {# alternate} other {# alternates}}', { count: offers.length }),
              (before) => takeAlternates(before, offers),
            )
          }
        >
          {offers.length === 1 ? t('Use as alternate version') : t('Use as alternate versions')}
        </Button>{' '}
        <Button size="sm" variant="link" onClick={decline}>
          {offers.length === 1 ? t('Keep as a track') : t('Keep as tracks')}
        </Button>
      </div>
    </section>
  );
}
