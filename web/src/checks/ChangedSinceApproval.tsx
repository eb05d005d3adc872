import { CONTRACT, type AnswerOf } from '@oiseau/api';
import { compareAlbums } from '@oiseau/album/compare';
import { useQuery } from '@tanstack/react-query';
import { TriangleAlert } from 'lucide-react';
import { useMemo } from 'react';
import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { useRevision } from '../api/queries.js';
import { t } from '../ui/messages.js';

type Answers = AnswerOf<typeof CONTRACT.albumAnswers>;
const NO_ANSWERS: Answers = [];

/** What listeners answered to any delivery of an album, the newest first. */
export const useAnswersOfAlbum = (id: string): Answers =>
  useQuery({
    queryKey: ['answers', 'of album', id],
    queryFn: () => call(CONTRACT.albumAnswers, { params: { id } }),
  }).data ?? NO_ANSWERS;

/** Says that the album has changed since an approval. */
export function ChangedSinceApproval() {
  const { id, facts, editing } = useAlbum('id', 'facts', 'editing');
  const { album } = editing;
  const answers = useAnswersOfAlbum(id);
  const approval = answers.find(({ verdict }) => verdict === 'approved');
  const approved = useRevision(id, approval?.revision ?? 0);
  const changes = useMemo(
    () =>
      approved
        ? compareAlbums(approved.album, album, new Map([...Object.entries(approved.masters), ...facts]))
            .length
        : 0,
    [approved, album, facts],
  );
  if (!approval || changes === 0) return null;
  return (
    <p className="changed-since" role="status">
      <TriangleAlert size={18} aria-hidden />{' '}
      {t('The album has changed since {name} approved revision {revision}.', {
        name: approval.name,
        revision: approval.revision,
      })}{' '}
      <Link to={`/albums/${id}/proof?delivery=${approval.deliveryId}`}>{t('Show changes')}</Link>
    </p>
  );
}
