import { CONTRACT } from '@oiseau/api';
import { useQueryClient } from '@tanstack/react-query';
import { CloudOff } from 'lucide-react';
import { useEffect, useState } from 'react';
import { call, onReached } from '../api/client.js';
import { t } from '../ui/messages.js';

/** How often it is tried whether the server is back. */
const TRY_EVERY_MS = 2000;

/** Says that the server, or its database, is away, and goes on by itself as soon as it is back. */
export function AwayLine() {
  const queries = useQueryClient();
  const [away, setAway] = useState<string | null>(null);
  useEffect(() => onReached(setAway), []);
  const isAway = away !== null;
  useEffect(() => {
    if (!isAway) return;
    const timer = setInterval(() => {
      call(CONTRACT.session, {}).then(
        () => queries.invalidateQueries(),
        () => undefined,
      );
    }, TRY_EVERY_MS);
    return () => clearInterval(timer);
  }, [isAway, queries]);
  if (!isAway) return null;
  return (
    <p className="away-line" role="alert">
      <CloudOff size={16} aria-hidden />{' '}
      {t(
        '{away} Retrying every two seconds. Your edits are kept in this window and saved when the server is back.',
        { away },
      )}
    </p>
  );
}
