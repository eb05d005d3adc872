import {
  editWords,
  formatIsrc,
  parseEan,
  parseIsrc,
  type Album,
  type EmbeddedField,
  type Song,
} from '@oiseau/core';
import { Button } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { songName } from '../album/song-name.js';
import { addressOf, CONTRACT, type MasterRecord } from '@oiseau/api';
import { count } from '../ui/format.js';

/** Where the words of a file go in a track, where in the album. */
const OF_TRACK = {
  title: 'title',
  performer: 'performer',
  composer: 'composer',
  arranger: 'arranger',
  isrc: 'isrc',
} as const satisfies Partial<Record<EmbeddedField, keyof Song>>;
const OF_ALBUM = {
  album: 'title',
  upc: 'upc',
  genre: 'genre',
  label: 'label',
  releaseDate: 'releaseDate',
  copyright: 'copyright',
} as const satisfies Partial<Record<EmbeddedField, keyof Album>>;

const NAMES: Record<EmbeddedField, string> = {
  title: 'title',
  performer: 'performer',
  album: 'album',
  composer: 'composer',
  arranger: 'arranger',
  isrc: 'ISRC',
  upc: 'UPC/EAN',
  genre: 'genre',
  label: 'label',
  releaseDate: 'date',
  copyright: 'copyright',
  comment: 'comment',
};

type Fields = MasterRecord['embedded']['fields'];

/** Text of the file as a field takes it: codes in their one form, and only when they are right. */
function taken(
  fields: Fields,
  map: Readonly<Partial<Record<EmbeddedField, string>>>,
): Record<string, string> {
  return Object.fromEntries(
    Object.entries(map).flatMap(([field, key]) => {
      const text = fields[field as EmbeddedField];
      if (!text) return [];
      if (field === 'isrc') return parseIsrc(text) ? [[key, formatIsrc(parseIsrc(text) ?? text)]] : [];
      if (field === 'upc') return parseEan(text) ? [[key, parseEan(text) ?? text]] : [];
      return [[key, text]];
    }),
  );
}

/** What the file says of itself, offered and never taken by itself. */
export function EmbeddedOffer({ master: { sha256, embedded } }: { master: MasterRecord }) {
  const { album, parts, edit } = useAlbum('album', 'parts', 'edit');
  const { fields, cues, cover } = embedded;
  const entries = Object.entries(fields) as [EmbeddedField, string][];
  if (entries.length === 0 && cues.length === 0 && !cover) return null;
  const song = album.songs.find(({ region }) => region.master === sha256);
  const name = song ? songName(parts, song.id) : '';
  const ofTrack = taken(fields, OF_TRACK);
  const ofAlbum = taken(fields, OF_ALBUM);
  const isNews = (of: object | undefined, words: Record<string, string>): boolean =>
    of !== undefined &&
    Object.entries(words).some(([key, value]) => (of as Record<string, unknown>)[key] !== value);
  const useForSong = (): void => {
    edit(`words of the file for ${name}`, (before) => editWords(before, song?.id ?? '', ofTrack));
  };
  return (
    <div className="embedded" aria-label="In the file" role="group">
      {cover && (
        <img src={addressOf(CONTRACT.picture, { params: { sha256: cover } })} alt="Cover in the file" />
      )}
      <p>
        <span className="text-secondary">In the file:</span>{' '}
        {entries.map(([field, text]) => (
          <span key={field} className="embedded-field" title={text}>
            <span className="text-secondary">{NAMES[field]}</span> {text}
          </span>
        ))}
        {cues.length > 0 && <span className="embedded-field">{count(cues.length, 'mark')}</span>}
      </p>
      {isNews(song, ofTrack) && (
        <Button size="sm" variant="outline-primary" onClick={useForSong}>
          Use for {name}
        </Button>
      )}
      {isNews(album, ofAlbum) && (
        <Button
          size="sm"
          variant="outline-primary"
          onClick={() => edit('words of the file for the album', (before) => ({ ...before, ...ofAlbum }))}
        >
          Use for the album
        </Button>
      )}
      {cover && album.artwork !== cover && (
        <Button
          size="sm"
          variant="outline-primary"
          onClick={() => edit('cover of the file', (before) => ({ ...before, artwork: cover }))}
        >
          Use the cover
        </Button>
      )}
    </div>
  );
}
