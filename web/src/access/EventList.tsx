import { type EventRecord } from '@oiseau/api';
import { useInfiniteQuery } from '@tanstack/react-query';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { Loading } from '../ui/Loading.js';
import { formatBytes, formatDate } from '../ui/format.js';
import { t } from '../ui/messages.js';

const WORDS: Readonly<Record<EventRecord['what'], string>> = {
  'signed-in': t('signed in'),
  'key-made': t('gave access to'),
  'key-taken-back': t('revoked access of'),
  uploaded: t('added'),
  rendered: t('rendered'),
  'handed-over': t('sent'),
  invited: t('shared for approval with'),
  'invitation-taken-back': t('revoked the link of'),
  listened: t('opened the link'),
  answered: t('responded to'),
  downloaded: t('downloaded'),
  cleared: t('deleted the files of'),
  deleted: t('deleted the album'),
  restored: t('restored the album'),
};

interface EventListProps {
  readonly queryKey: readonly unknown[];
  readonly load: (before: number | undefined) => Promise<EventRecord[]>;
  /** Whether events of several albums stand in the list. */
  readonly ofAlbums: boolean;
}

/** What has happened: when, who, from where. The list only ever grows. */
export function EventList({ queryKey, load, ofAlbums }: EventListProps) {
  const { data, error, hasNextPage, fetchNextPage, isFetching } = useInfiniteQuery({
    queryKey,
    queryFn: ({ pageParam }) => load(pageParam),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => (last.length < 100 ? undefined : last.at(-1)?.id),
  });
  const events = data?.pages.flat() ?? [];
  if (error)
    return (
      <p role="alert" className="text-danger">
        {error.message}
      </p>
    );
  if (!data) return <Loading>{t('Loading activity')}</Loading>;
  if (events.length === 0) return <p className="text-secondary">{t('No activity yet.')}</p>;
  return (
    <>
      <table className="table events">
        <thead>
          <tr>
            <th>{t('When')}</th>
            <th>{t('Who')}</th>
            <th>{t('What')}</th>
            {ofAlbums && <th>{t('Album')}</th>}
            <th className="num">{t('Size')}</th>
            <th>{t('From')}</th>
          </tr>
        </thead>
        <tbody>
          {events.map(({ id, at, who, from, what, album, detail, bytes }) => (
            <tr key={id}>
              <td className="text-nowrap">{formatDate(at)}</td>
              <td>{who || t('administrator')}</td>
              <td>
                {WORDS[what]} {detail !== '' && <strong>{detail}</strong>}
              </td>
              {ofAlbums && (
                <td>
                  {album && <Link to={`/albums/${album.id}`}>{album.title || t('Untitled album')}</Link>}
                </td>
              )}
              <td className="num">{bytes === null ? '' : formatBytes(bytes)}</td>
              <td className="text-secondary">{from.replace(/^::ffff:/, '')}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {hasNextPage && (
        <Button variant="outline-primary" disabled={isFetching} onClick={() => void fetchNextPage()}>
          {t('Show earlier activity')}
        </Button>
      )}
    </>
  );
}
