import { editWords } from '@oiseau/album/edits';
import type { EmbeddedField } from '@oiseau/audio/pcm';
import { Button } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { songName } from '../album/song-name.js';
import { addressOf, CONTRACT, type MasterRecord } from '@oiseau/api';
import { asEdit, FIELD_NAMES, newsOf, wordsForAlbum, wordsForTrack } from './embedded-words.js';
import { t } from '../ui/messages.js';

/** What the file says of itself, offered and never taken by itself. */
export function EmbeddedOffer({ master: { sha256, embedded } }: { master: MasterRecord }) {
  const { album, parts, edit } = useAlbum('album', 'parts', 'edit');
  const { fields, cues, cover } = embedded;
  const entries = Object.entries(fields) as [EmbeddedField, string][];
  if (entries.length === 0 && cues.length === 0 && !cover) return null;
  const song = album.songs.find(({ region }) => region.master === sha256);
  const name = song ? songName(parts, song.id) : '';
  const ofTrack = wordsForTrack(fields);
  const ofAlbum = wordsForAlbum(fields);
  return (
    <div className="embedded" aria-label={t('Embedded')} role="group">
      {cover && (
        <img
          src={addressOf(CONTRACT.picture, { params: { sha256: cover }, query: { pixels: 400 } })}
          alt={t('Embedded cover')}
        />
      )}
      <p>
        <span className="text-secondary">{t('Embedded tags:')}</span>{' '}
        {entries.map(([field, text]) => (
          <span key={field} className="embedded-field" title={text}>
            <span className="text-secondary">{FIELD_NAMES[field]}</span> {text}
          </span>
        ))}
        {cues.length > 0 && (
          <span className="embedded-field">
            {t('{count, plural, one {# mark} other {# marks}}', { count: cues.length })}
          </span>
        )}
      </p>
      {song && newsOf(song, ofTrack).length > 0 && (
        <Button
          size="sm"
          variant="outline-primary"
          onClick={() =>
            edit(t('embedded tags for {name}', { name }), (before) =>
              editWords(before, song.id, asEdit(ofTrack)),
            )
          }
        >
          {t('Use for {name}', { name })}
        </Button>
      )}
      {newsOf(album, ofAlbum).length > 0 && (
        <Button
          size="sm"
          variant="outline-primary"
          onClick={() => edit('embedded tags for the album', (before) => ({ ...before, ...asEdit(ofAlbum) }))}
        >
          {t('Use tags for the album')}
        </Button>
      )}
      {cover && album.artwork !== cover && (
        <Button
          size="sm"
          variant="outline-primary"
          onClick={() => edit('embedded cover', (before) => ({ ...before, artwork: cover }))}
        >
          {t('Use cover')}
        </Button>
      )}
    </div>
  );
}
