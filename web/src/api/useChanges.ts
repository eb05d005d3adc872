import type { ChangeTopic } from '@oiseau/api';
import { useQueryClient, type QueryClient, type QueryKey } from '@tanstack/react-query';
import { useEffect } from 'react';
import { followChanges, onChanges } from './changes.js';
import { deliveriesKey, keepingKey, mastersKey, queueKey, shelfKey } from './queries.js';

/** The channel can wait for the first drawing, ms. */
const BEGIN_MS = 1000;
/** What was asked for again because of a change is not asked for sooner than after so long, ms. */
const SPACING_MS = 400;

/** What is asked for again where something has changed. */
const ASKED_AGAIN: Readonly<Record<ChangeTopic, (album: string) => readonly QueryKey[]>> = {
  // An album that is open asks for what has changed of it itself.
  album: () => [shelfKey, ['isrcs elsewhere']],
  masters: (id) => [mastersKey(id)],
  imports: (id) => [mastersKey(id)],
  sounds: (id) => ['sounds', 'line-ups', 'sides', 'loudness', 'room'].map((what) => [what, id]),
  deliveries: (id) => [deliveriesKey(id), queueKey, shelfKey, ['revisions', id]],
  notes: () => [['notes']],
  answers: () => [['answers']],
  invitations: (id) => [['invitations', id]],
  handovers: (id) => [['handovers', id]],
  recipients: () => [['receivers']],
  storage: () => [keepingKey],
};

/** Follows the channel of changes, and asks for what is shown of whatever has changed. @param keyId who is here */
export function useChanges(keyId: string | undefined): void {
  const queries = useQueryClient();
  useEffect(() => {
    if (keyId === undefined) return undefined;
    const again = refresher(queries);
    const leave = onChanges({
      changed: ({ topic, album }) => ASKED_AGAIN[topic](album ?? '').forEach(again),
      // What never changes (outlines, revisions, samples) is never stale.
      missed: () => void queries.invalidateQueries({ type: 'active', stale: true }),
    });
    let end: (() => void) | undefined;
    const timer = setTimeout(() => (end = followChanges(keyId)), BEGIN_MS);
    return () => {
      clearTimeout(timer);
      leave();
      end?.();
    };
  }, [queries, keyId]);
}

/** Asks for each thing again as soon as it may, one question after the other: a change that comes meanwhile is one more question, not many. */
function refresher(queries: QueryClient): (queryKey: QueryKey) => void {
  const waiting = new Set<string>();
  const busy = new Set<string>();
  const run = async (name: string, queryKey: QueryKey): Promise<void> => {
    busy.add(name);
    while (waiting.delete(name)) {
      await queries.invalidateQueries({ queryKey });
      await new Promise((resolve) => setTimeout(resolve, SPACING_MS));
    }
    busy.delete(name);
  };
  return (queryKey) => {
    const name = JSON.stringify(queryKey);
    waiting.add(name);
    if (!busy.has(name)) void run(name, queryKey);
  };
}
