import { type EventRecord } from '@oiseau/api';
import { useInfiniteQuery } from '@tanstack/react-query';
import { Button, Spinner } from 'react-bootstrap';
import { Link } from 'react-router';
import { formatBytes, formatDate } from '../ui/format.js';

const WORDS: Readonly<Record<EventRecord['what'], string>> = {
  'signed-in': 'came in',
  'key-made': 'let somebody in',
  'key-taken-back': 'took a key back',
  uploaded: 'brought in',
  rendered: 'had rendered',
  'handed-over': 'handed over',
  invited: 'let listen',
  'invitation-taken-back': 'took an address back from',
  listened: 'came to listen',
  answered: 'answered to',
  downloaded: 'downloaded',
  cleared: 'cleared the files of',
  deleted: 'deleted the album',
  restored: 'put the album back',
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
  if (!data) return <Spinner aria-label="Loading what has happened" />;
  if (events.length === 0) return <p className="text-secondary">Nothing has happened yet.</p>;
  return (
    <>
      <table className="table events">
        <thead>
          <tr>
            <th>When</th>
            <th>Who</th>
            <th>What</th>
            {ofAlbums && <th>Album</th>}
            <th className="num">Size</th>
            <th>From</th>
          </tr>
        </thead>
        <tbody>
          {events.map(({ id, at, who, from, what, album, detail, bytes }) => (
            <tr key={id}>
              <td className="text-nowrap">{formatDate(at)}</td>
              <td>{who || 'who runs Oiseau'}</td>
              <td>
                {WORDS[what]} {detail !== '' && <strong>{detail}</strong>}
              </td>
              {ofAlbums && (
                <td>{album && <Link to={`/albums/${album.id}`}>{album.title || 'Untitled album'}</Link>}</td>
              )}
              <td className="num">{bytes === null ? '' : formatBytes(bytes)}</td>
              <td className="text-secondary">{from.replace(/^::ffff:/, '')}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {hasNextPage && (
        <Button variant="outline-primary" disabled={isFetching} onClick={() => void fetchNextPage()}>
          Show what was before
        </Button>
      )}
    </>
  );
}
