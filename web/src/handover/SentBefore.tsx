import type { DeliveryRecord, HandoverRecord } from '@oiseau/api';
import { compareAlbums } from '@oiseau/album/compare';
import { useState } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { useRevision } from '../api/queries.js';
import { formatWhen } from '../ui/format.js';
import { standing } from './words.js';
import { say, t } from '../ui/messages.js';

/** What went to a receiver before: the same revision says so, of an earlier one it is told what has changed since. */
export function SentBefore({
  before,
  delivery,
}: {
  /** Hand-overs of this deliverable to this receiver, the newest first. */
  readonly before: readonly HandoverRecord[];
  readonly delivery: DeliveryRecord;
}) {
  const [shown, setShown] = useState(false);
  const [last] = before.filter(({ sentAt }) => sentAt !== null);
  if (!last) return null;
  const when = formatWhen(last.sentAt ?? last.createdAt, new Date());
  const { words } = standing(last);
  if (last.revision === delivery.revision)
    return (
      <span className="doubtful">
        {t('This revision was already sent {when}: {words}.', { when, words })}
      </span>
    );
  return (
    <span>
      {t('Revision {revision} was sent {when}: {words}.', { revision: last.revision, when, words })}{' '}
      <button type="button" className="link-button" aria-expanded={shown} onClick={() => setShown(!shown)}>
        {t('Changes since')}
      </button>
      {shown && <Changes from={last.revision} to={delivery.revision} />}
    </span>
  );
}

function Changes({ from, to }: { readonly from: number; readonly to: number }) {
  const { id } = useAlbum('id');
  const before = useRevision(id, from);
  const after = useRevision(id, to);
  if (!before || !after) return null;
  const masters = new Map(Object.entries({ ...before.masters, ...after.masters }));
  const changes = compareAlbums(before.album, after.album, masters);
  return (
    <ul className="changes">
      {changes.length === 0 ? (
        <li>{t('No changes to the album.')}</li>
      ) : (
        changes.map(say).map((line) => <li key={line}>{line}</li>)
      )}
    </ul>
  );
}
