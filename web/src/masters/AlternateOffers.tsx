import { songOf } from '@oiseau/album/model';
import { takeAlternates } from '@oiseau/album/edits';
import { Layers2 } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { songName } from '../album/song-name.js';
import { count } from '../ui/format.js';
import { useAlternateOffers } from './useAlternateOffers.js';

/** Rows that are shown before the rest is told as a number. */
const SHOWN = 6;

/** Files that look like other recordings of songs that are here: offered, never taken by themselves. */
export function AlternateOffers() {
  const { album, parts, mastersById, edit } = useAlbum('album', 'parts', 'mastersById', 'edit');
  const { offers, decline } = useAlternateOffers();
  if (offers.length === 0) return null;
  const more = offers.length - SHOWN;
  return (
    <section className="alternate-offers" aria-label="Other recordings that were found">
      <Layers2 size={18} aria-hidden />
      <div>
        <p>
          {offers.length === 1 ? 'One file looks' : `${offers.length} files look`} like another recording of a
          song here. An alternate shares everything with its song and lines up with it; it is no track of its
          own.
        </p>
        <ul>
          {offers.slice(0, SHOWN).map(({ song, name, master }) => (
            <li key={master}>
              <span className="file">{mastersById.get(master)?.name}</span> → {songName(parts, song)}{' '}
              <span className="song">{songOf(album, song)?.title}</span>, <b>{name}</b>
            </li>
          ))}
          {more > 0 && <li className="text-secondary">and {more} more</li>}
        </ul>
        <Button
          size="sm"
          onClick={() => edit(count(offers.length, 'alternate'), (before) => takeAlternates(before, offers))}
        >
          Take {offers.length === 1 ? 'it' : 'them'} as alternates
        </Button>{' '}
        <Button size="sm" variant="link" onClick={decline}>
          {offers.length === 1 ? 'It is a track' : 'They are tracks'} of{' '}
          {offers.length === 1 ? 'its' : 'their'} own
        </Button>
      </div>
    </section>
  );
}
