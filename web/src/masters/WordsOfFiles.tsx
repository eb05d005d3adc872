import { editWords } from '@oiseau/album/edits';
import type { Album, Song } from '@oiseau/album/model';
import { addressOf, CONTRACT } from '@oiseau/api';
import { FileText } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { songName } from '../album/song-name.js';
import { useOpened } from '../ui/addressed.js';
import {
  agreedForAlbum,
  asEdit,
  FIELD_NAMES,
  newsOf,
  wordsForTrack,
  type FoundWord,
} from './embedded-words.js';
import { t } from '../ui/messages.js';

/** Words of one file that say something else than its track, or of all files than the album. */
interface Offer {
  /** Of a song; `album`, `cover`. */
  readonly id: string;
  readonly name: string;
  readonly of: object;
  readonly news: readonly FoundWord[];
  readonly apply: (album: Album) => Album;
}

function useOffers(): { readonly offers: readonly Offer[]; readonly cover: string | null } {
  const { album, parts, mastersById } = useAlbum('album', 'parts', 'mastersById');
  return useMemo(() => {
    const files = album.songs.flatMap(({ region }) => mastersById.get(region.master) ?? []);
    const ofAlbum = newsOf(album, agreedForAlbum(files.map(({ embedded }) => embedded.fields)));
    const songs = album.songs.flatMap((song: Song): Offer[] => {
      const fields = mastersById.get(song.region.master)?.embedded.fields;
      const news = fields ? newsOf(song, wordsForTrack(fields)) : [];
      if (news.length === 0) return [];
      const name = t('{songName} {title}', { songName: songName(parts, song.id), title: song.title });
      return [{ id: song.id, name, of: song, news, apply: (all) => editWords(all, song.id, asEdit(news)) }];
    });
    const whole: Offer[] =
      ofAlbum.length === 0
        ? []
        : [
            {
              ...{ id: 'album', name: t('the album'), of: album, news: ofAlbum },
              apply: (all) => ({ ...all, ...asEdit(ofAlbum) }),
            },
          ];
    const covers = new Set(files.flatMap(({ embedded }) => embedded.cover ?? []));
    const [cover = null] = covers;
    return {
      offers: [...whole, ...songs],
      cover: covers.size === 1 && cover !== album.artwork ? cover : null,
    };
  }, [album, parts, mastersById]);
}

/** The words that lie in the files, for all tracks and the album at once: a look at what would change, and one button. */
export function WordsOfFiles() {
  const { offers, cover } = useOffers();
  const words = useOpened('words');
  const all = offers.length + (cover === null ? 0 : 1);
  if (all === 0) return null;
  return (
    <>
      <Button variant="outline-primary" onClick={words.open}>
        <FileText size={16} aria-hidden /> {t('Embedded tags')}
      </Button>
      {words.isOpen && <WordsDialog offers={offers} cover={cover} onHide={words.close} />}
    </>
  );
}

function WordsDialog({
  offers,
  cover,
  onHide,
}: {
  readonly offers: readonly Offer[];
  readonly cover: string | null;
  readonly onHide: () => void;
}) {
  const { edit } = useAlbum('edit');
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const turn = (id: string): void => {
    const next = new Set(left);
    if (!next.delete(id)) next.add(id);
    setLeft(next);
  };
  const chosen = offers.filter(({ id }) => !left.has(id));
  const takesCover = cover !== null && !left.has(t('cover'));
  const take = (): void => {
    edit('embedded tags', (before) => {
      const words = chosen.reduce((all, { apply }) => apply(all), before);
      return takesCover ? { ...words, artwork: cover } : words;
    });
    onHide();
  };
  return (
    <Modal show onHide={onHide} size="lg" scrollable aria-labelledby="words-title">
      <Modal.Header closeButton>
        <Modal.Title id="words-title">{t('Use embedded tags')}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <table className="table words-of-files">
          <thead>
            <tr>
              <th>{t('Use')}</th>
              <th>{t('For')}</th>
              <th>{t('Current value')}</th>
              <th>{t('In the file')}</th>
            </tr>
          </thead>
          <tbody>
            {cover !== null && <CoverRow cover={cover} used={takesCover} onTurn={() => turn(t('cover'))} />}
            {offers.map((offer) => (
              <OfferRows
                key={offer.id}
                offer={offer}
                used={!left.has(offer.id)}
                onTurn={() => turn(offer.id)}
              />
            ))}
          </tbody>
        </table>
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={onHide}>
          {t('Cancel')}
        </Button>
        <Button disabled={chosen.length === 0 && !takesCover} onClick={take}>
          {t('Use tags for {count, plural, one {# entry} other {# entries}}', { count: chosen.length })}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

interface Used {
  readonly used: boolean;
  readonly onTurn: () => void;
}

function CoverRow({ cover, used, onTurn }: Used & { readonly cover: string }) {
  return (
    <tr>
      <td>
        <Form.Check checked={used} aria-label={t('Use the embedded cover')} onChange={onTurn} />
      </td>
      <td>{t('the album')}</td>
      <td>{t('cover')}</td>
      <td>
        <img
          src={addressOf(CONTRACT.picture, { params: { sha256: cover }, query: { pixels: 400 } })}
          alt={t('Embedded cover')}
        />
      </td>
    </tr>
  );
}

/** One row per tag of an offer; its checkbox and name span all rows. */
function OfferRows({ offer: { name, of, news }, used, onTurn }: Used & { readonly offer: Offer }) {
  return news.map(({ field, key, text }, i) => (
    <tr key={key} className={used ? '' : 'left'}>
      {i === 0 && (
        <>
          <td rowSpan={news.length}>
            <Form.Check
              checked={used}
              aria-label={t('Use the tags for {name}', { name })}
              onChange={onTurn}
            />
          </td>
          <th scope="row" rowSpan={news.length}>
            {name}
          </th>
        </>
      )}
      <td>
        <span className="text-secondary">{FIELD_NAMES[field]}</span>{' '}
        {String((of as Record<string, unknown>)[key] ?? '')}
      </td>
      <td>{text}</td>
    </tr>
  ));
}
