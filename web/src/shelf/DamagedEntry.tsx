import { addressOf, CONTRACT, type ShelfEntry } from '@oiseau/api';
import { useQueryClient } from '@tanstack/react-query';
import { CircleX } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { useMay } from '../access/VisitorContext.js';
import { call } from '../api/client.js';
import { shelfKey, useRevisions } from '../api/queries.js';
import { formatWhen } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';

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
        <CircleX size={18} aria-hidden /> <strong>Damaged album</strong>
      </p>
      <p className="text-secondary">
        Last edited {formatWhen(updatedAt, new Date())}. Its masters and renders are untouched.
      </p>
      {works && (
        <>
          <a href={addressOf(CONTRACT.rawAlbum, { params: { id } })} download>
            Download the stored document
          </a>
          {newest && (
            <Button
              size="sm"
              variant="outline-primary"
              onClick={() => bringBack(newest.number).catch(complain)}
            >
              Restore revision {newest.number} back
            </Button>
          )}
        </>
      )}
    </li>
  );
}
