import { addressOf, CONTRACT, type ShelfEntry } from '@oiseau/api';
import { useQueryClient } from '@tanstack/react-query';
import { CircleX } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { useMay } from '../access/VisitorContext.js';
import { call } from '../api/client.js';
import { shelfKey, useRevisions } from '../api/queries.js';
import { formatWhen } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';
import { t } from '../ui/messages.js';

/** An album that can't be read any more: what is kept of it can be saved, and its newest revision brought back. */
export function DamagedEntry({ entry: { id, updatedAt } }: { entry: ShelfEntry }) {
  const works = useMay('work');
  const queries = useQueryClient();
  const { complain } = useNotices();
  const [newest] = useRevisions(id);
  const bringBack = async (number: number): Promise<void> => {
    await call(CONTRACT.bringBackRevision, { params: { id, number } });
    await queries.invalidateQueries({ queryKey: shelfKey });
  };
  return (
    <li className="shelf-album damaged">
      <p>
        <CircleX size={18} aria-hidden /> <strong>{t('Damaged album')}</strong>
      </p>
      <p className="text-secondary">
        {t('Last edited {when}. Its masters and renders are untouched.', {
          when: formatWhen(updatedAt, new Date()),
        })}
      </p>
      {works && (
        <>
          <a href={addressOf(CONTRACT.rawAlbum, { params: { id } })} download>
            {t('Download the stored document')}
          </a>
          {newest && (
            <Button
              size="sm"
              variant="outline-primary"
              onClick={() => bringBack(newest.number).catch(complain)}
            >
              {t('Restore revision {number} back', { number: newest.number })}
            </Button>
          )}
        </>
      )}
    </li>
  );
}
