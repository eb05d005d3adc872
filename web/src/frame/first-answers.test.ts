// @vitest-environment happy-dom
import type {} from '../api/early.js';
import { album } from '@oiseau/album/testing';
import { QueryClient } from '@tanstack/react-query';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { sessionQuery } from '../access/session.js';
import { albumQuery, mastersQuery } from '../api/queries.js';
import { takeFirstAnswers } from './first-answers.js';

const ID = '2f1c8c4e-0d5b-4b8e-9f33-5a9f2f6f7a10';
const visitor = { id: 'k', name: 'Ada', role: 'engineer', shared: false, first: false, unlimited: true };
const record = { id: ID, version: 3, album: album({}, {}), updatedAt: '2026-11-01T10:00:00.000Z' };

const answer = (body: unknown, status = 200) =>
  Promise.resolve(new Response(JSON.stringify(body), { status }));

/** As web/public/early.js leaves them for an album that is opened. */
const asked = (of: Record<'session' | 'album' | 'masters', Promise<Response>>) =>
  (window.oiseauEarly = new Map([
    ['/api/session', of.session],
    [`/api/albums/${ID}`, of.album],
    [`/api/albums/${ID}/masters?curves=false`, of.masters],
  ]));

const fetched = vi.fn<(address: string) => Promise<Response>>();

beforeEach(() => {
  window.history.replaceState(null, '', `/albums/${ID}/sequence`);
  fetched.mockReset().mockImplementation(() => answer({ error: 'No.' }, 401));
  vi.stubGlobal('fetch', fetched);
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
  delete window.oiseauEarly;
});

describe('what was asked for before the program was read', () => {
  it('is there before anything is drawn, and nobody asks again', async () => {
    asked({ session: answer(visitor), album: answer(record), masters: answer([]) });
    const queries = new QueryClient();
    await takeFirstAnswers(queries);
    expect(queries.getQueryData(sessionQuery.queryKey)).toEqual(visitor);
    expect(queries.getQueryData(albumQuery(ID).queryKey)?.version).toBe(3);
    expect(queries.getQueryData(mastersQuery(ID).queryKey)).toEqual([]);
    expect(fetched).not.toHaveBeenCalled();
  });

  it('holds up no drawing where it fails: whoever needs it asks again', async () => {
    asked({
      session: answer({ error: 'No.' }, 401),
      album: Promise.reject(new TypeError('away')),
      masters: answer({ error: 'No.' }, 403),
    });
    const queries = new QueryClient();
    await takeFirstAnswers(queries);
    expect(queries.getQueryData(sessionQuery.queryKey)).toBeNull();
    expect(queries.getQueryData(albumQuery(ID).queryKey)).toBeUndefined();
  });

  it('is waited for no longer than 400 ms', async () => {
    vi.useFakeTimers();
    const never = new Promise<Response>(() => undefined);
    asked({ session: answer(visitor), album: never, masters: answer([]) });
    let over = false;
    void takeFirstAnswers(new QueryClient()).then(() => (over = true));
    await vi.advanceTimersByTimeAsync(399);
    expect(over).toBe(false);
    await vi.advanceTimersByTimeAsync(1);
    expect(over).toBe(true);
  });

  it('is nothing where a key in the address comes first', async () => {
    window.oiseauEarly = new Map();
    await takeFirstAnswers(new QueryClient());
    expect(fetched).not.toHaveBeenCalled();
  });
});
