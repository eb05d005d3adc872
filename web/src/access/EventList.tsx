import { type EventRecord } from '@oiseau/api';
import { useInfiniteQuery } from '@tanstack/react-query';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { Loading } from '../ui/Loading.js';
import { formatBytes, formatDate } from '../ui/format.js';

const WORDS: Readonly<Record<EventRecord['what'], string>> = {
  'signed-in': 'signed in',
  'key-made': 'gave access to',
  'key-taken-back': 'revoked access of',
  uploaded: 'added',
  rendered: 'rendered',
  'handed-over': 'sent',
  invited: 'shared for approval with',
  'invitation-taken-back': 'revoked the link of',
  listened: 'opened the link',
  answered: 'responded to',
  downloaded: 'downloaded',
  cleared: 'deleted the files of',
  deleted: 'deleted the album',
  restored: 'restored the album',
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
  if (!data) return <Loading>Loading activity</Loading>;
  if (events.length === 0) return <p className="text-secondary">No activity yet.</p>;
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
              <td>{who || 'administrator'}</td>
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
          Show earlier activity
        </Button>
      )}
    </>
  );
}
