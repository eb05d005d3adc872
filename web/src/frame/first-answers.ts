import type { QueryClient } from '@tanstack/react-query';
import { matchPath } from 'react-router';
import { sessionQuery } from '../access/session.js';
import { hasEarly } from '../api/early.js';
import { albumQuery, mastersQuery } from '../api/queries.js';

/** After so long something is drawn, whatever has come. */
const MOST_MS = 400;

/** Takes in what was asked for before the program was read, so that what is drawn first is the view itself. What fails is requested again by its view. */
export async function takeFirstAnswers(queries: QueryClient): Promise<void> {
  if (!hasEarly()) return;
  const id = matchPath('/albums/:id/*', window.location.pathname)?.params.id;
  const answers = [
    queries.prefetchQuery(sessionQuery),
    ...(id === undefined
      ? []
      : [queries.prefetchQuery(albumQuery(id)), queries.prefetchQuery(mastersQuery(id))]),
  ];
  await Promise.race([Promise.all(answers), new Promise((resolve) => setTimeout(resolve, MOST_MS))]);
}
