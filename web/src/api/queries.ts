import { useCallback, useEffect, useMemo, useState } from 'react';
import { Silhouette } from '@oiseau/audio/measure';
import type { CoverFacts } from '@oiseau/checks';
import {
  keepPreviousData,
  queryOptions,
  useInfiniteQuery,
  useQueries,
  useQuery,
  type UseQueryResult,
} from '@tanstack/react-query';
import {
  addressOf,
  CONTRACT,
  type AlbumRecord,
  type AnswerOf,
  type DeliveryRecord,
  type Health,
  type Keeping,
  type MasterRecord,
  type QueuedRender,
  type Revision,
  type RevisionRecord,
  type ShelfEntry,
  type ShelfSort,
  type TreatmentPreset,
} from '@oiseau/api';
import { whileNotTold } from './changes.js';
import { call } from './client.js';

export const shelfKey = ['shelf'] as const;
export const queueKey = ['render queue'] as const;
export const albumKey = (id: string) => ['album', id] as const;
export const mastersKey = (id: string) => ['masters', id] as const;
export const deliveriesKey = (id: string) => ['deliveries', id] as const;

/** How often a view asks again while something is under way, and how often for what other windows do, where the channel of changes is away. */
const BUSY_MS = 600;
const OTHERS_MS = 4000;
const HEALTH_MS = 30_000;

/** The Shelf, page after page. @param q words of a title or a performer; empty: all albums */
export function useShelf(q: string, order: ShelfSort) {
  return useInfiniteQuery({
    queryKey: [...shelfKey, q, order],
    queryFn: ({ pageParam: offset }) => call(CONTRACT.shelf, { query: { q, order, offset } }),
    initialPageParam: 0,
    getNextPageParam: ({ total }, pages) => {
      const shown = pages.reduce((sum, { albums }) => sum + albums.length, 0);
      return shown < total ? shown : undefined;
    },
    // No change reports the progress of the index.
    refetchInterval: ({ state }) => {
      const pages = state.data?.pages ?? [];
      if (pages.some(({ indexing }) => indexing > 0)) return OTHERS_MS;
      const isRendering = pages.some(({ albums }) => albums.some(({ rendering }) => rendering > 0));
      return isRendering && whileNotTold(OTHERS_MS);
    },
    placeholderData: keepPreviousData,
  });
}

/** How everything is; asked twice a minute. */
export function useHealth(enabled = true): UseQueryResult<Health> {
  return useQuery({
    enabled,
    queryKey: ['health'],
    queryFn: () => call(CONTRACT.health, {}),
    refetchInterval: HEALTH_MS,
  });
}

export const keepingKey = ['keeping'] as const;

/** What lies where, and what was looked over. */
export function useKeeping(): UseQueryResult<Keeping> {
  return useQuery({
    queryKey: keepingKey,
    queryFn: () => call(CONTRACT.keeping, {}),
    refetchInterval: ({ state }) =>
      ['queued', 'running'].includes(state.data?.verifying?.state ?? '') ? whileNotTold(BUSY_MS) : false,
  });
}

/** Every album of the Shelf, for a list to choose from; there is no other way to one on its third page. */
export function useAllAlbums(): UseQueryResult<ShelfEntry[]> {
  return useQuery({
    queryKey: [...shelfKey, 'all of them'],
    queryFn: async () => {
      const all: ShelfEntry[] = [];
      for (let total = 1; all.length < total;) {
        const page = await call(CONTRACT.shelf, { query: { offset: all.length, limit: 200 } });
        if (page.albums.length === 0) break;
        all.push(...page.albums);
        ({ total } = page);
      }
      return all;
    },
  });
}

/** Two parts of a view that come at the same time, and what was taken in before them, make one question. */
const JUST_NOW_MS = 1000;

/** The album as the server has it now. */
export const albumQuery = (id: string) =>
  queryOptions({
    queryKey: albumKey(id),
    queryFn: () => call(CONTRACT.album, { params: { id } }),
    staleTime: JUST_NOW_MS,
  });

/** All masters of an album, without their curves. */
export const mastersQuery = (id: string) =>
  queryOptions({
    queryKey: mastersKey(id),
    queryFn: () => call(CONTRACT.masters, { params: { id }, query: { curves: 'false' } }),
    staleTime: JUST_NOW_MS,
  });

/** The album; asked again and again, so that another window's edits are noticed. */
export function useServerAlbum(id: string): UseQueryResult<AlbumRecord> {
  return useQuery({
    ...albumQuery(id),
    refetchInterval: () => whileNotTold(OTHERS_MS),
    refetchOnWindowFocus: true,
  });
}

export function useMasters(id: string, enabled = true): UseQueryResult<MasterRecord[]> {
  return useQuery({
    ...mastersQuery(id),
    enabled,
    refetchInterval: ({ state }) =>
      state.data?.some(
        ({ measurement, job }) => !measurement && (job?.state === 'queued' || job?.state === 'running'),
      )
        ? whileNotTold(BUSY_MS)
        : false,
  });
}

/** ISRCs of the other albums on the Shelf. */
export function useIsrcsElsewhere(id: string): UseQueryResult<AnswerOf<typeof CONTRACT.isrcsElsewhere>> {
  return useQuery({
    queryKey: ['isrcs elsewhere', id],
    queryFn: () => call(CONTRACT.isrcsElsewhere, { params: { id } }),
  });
}

/** Size, colours and weight of a picture; it never changes. */
export function useCoverFacts(sha256: string | null): CoverFacts | undefined {
  return useQuery({
    queryKey: ['cover facts', sha256],
    queryFn: () => call(CONTRACT.coverFacts, { params: { sha256: sha256 ?? '' } }),
    enabled: sha256 !== null,
    staleTime: Infinity,
  }).data;
}

export function useDeliveries(id: string): UseQueryResult<DeliveryRecord[]> {
  return useQuery({
    queryKey: deliveriesKey(id),
    queryFn: async ({ client }) => {
      // A proof travels once: it stays what it is as long as its attempt does.
      const before = client.getQueryData<DeliveryRecord[]>(deliveriesKey(id)) ?? [];
      const proofs = new Map(
        before.flatMap(({ attempt, proof }) => (proof && attempt !== '' ? [[attempt, proof] as const] : [])),
      );
      const known = [...proofs.keys()].slice(0, MOST_KNOWN).join(',');
      const now = await call(CONTRACT.deliveries, { params: { id }, query: { known } });
      return now.map((delivery) =>
        delivery.proofKnown ? { ...delivery, proof: proofs.get(delivery.attempt) ?? null } : delivery,
      );
    },
    refetchInterval: ({ state }) => (state.data?.some(isUnderWay) ? whileNotTold(BUSY_MS) : false),
  });
}
/** As many as an address holds. */
const MOST_KNOWN = 200;

/** What is rendered or waits, of all albums. */
export function useRenderQueue(): UseQueryResult<QueuedRender[]> {
  return useQuery({
    queryKey: queueKey,
    queryFn: () => call(CONTRACT.renderQueue, {}),
    refetchInterval: ({ state }) => whileNotTold((state.data?.length ?? 0) > 0 ? 2 * BUSY_MS : OTHERS_MS),
  });
}

export const isUnderWay = ({ state }: Pick<DeliveryRecord, 'state'>): boolean =>
  state === 'queued' || state === 'running';

/** The revisions of an album, the newest first. */
export function useRevisions(id: string): readonly RevisionRecord[] {
  const { data } = useQuery({
    queryKey: ['revisions', id],
    queryFn: () => call(CONTRACT.revisions, { params: { id } }),
    enabled: id !== '',
  });
  return data ?? [];
}

/** One of them, with the facts of its masters; `number` 0: none. */
export function useRevision(id: string, number: number): Revision | undefined {
  return useQuery({
    queryKey: ['revision', id, number],
    queryFn: () => call(CONTRACT.revision, { params: { id, number } }),
    enabled: id !== '' && number > 0,
    staleTime: Infinity,
  }).data;
}

async function fetchSilhouette(sha256: string): Promise<Silhouette> {
  const response = await fetch(addressOf(CONTRACT.silhouette, { params: { sha256 } }));
  if (!response.ok) throw new Error(`no silhouette of ${sha256}`);
  return new Silhouette(new Uint16Array(await response.arrayBuffer()));
}

async function fetchPowers(sha256: string): Promise<Float32Array> {
  const response = await fetch(addressOf(CONTRACT.powers, { params: { sha256 } }));
  if (!response.ok) throw new Error(`no loudness of ${sha256}`);
  return new Float32Array(await response.arrayBuffer());
}

/** So many of a long album's masters are asked for as soon as its rows are drawn, and the others half a second later. */
const FIRST_FETCHED = 24;
const SOON_MS = 500;

/** How many things may be fetched: none before the first drawing, which waits for nothing else. */
function useMostFetched(): number {
  const [most, setMost] = useState(0);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const frame = requestAnimationFrame(() => {
      timer = setTimeout(() => {
        setMost(FIRST_FETCHED);
        timer = setTimeout(() => setMost(Infinity), SOON_MS);
      });
    });
    return () => {
      cancelAnimationFrame(frame);
      clearTimeout(timer);
    };
  }, []);
  return most;
}

/** Something of every measured master, by SHA-256, as far as it has come; it never changes. */
function useOfMasters<T>(
  masters: readonly MasterRecord[],
  what: string,
  fetched: (sha256: string) => Promise<T>,
): ReadonlyMap<string, T> {
  const measured = useMemo(() => masters.filter(({ measurement }) => measurement), [masters]);
  // The same function as long as the masters are the same, so that the map is the same as well.
  const combine = useCallback(
    (results: readonly UseQueryResult<T>[]) =>
      new Map(
        results.flatMap(({ data }, i) => (data && measured[i] ? [[measured[i].sha256, data] as const] : [])),
      ),
    [measured],
  );
  const most = useMostFetched();
  return useQueries({
    queries: measured.map(({ sha256 }, i) => ({
      queryKey: [what, sha256],
      queryFn: () => fetched(sha256),
      staleTime: Infinity,
      enabled: i < most,
    })),
    combine,
  });
}

/** Outlines of all measured masters. */
export const useSilhouettes = (masters: readonly MasterRecord[]): ReadonlyMap<string, Silhouette> =>
  useOfMasters(masters, 'silhouette', fetchSilhouette);

/** Mean power of each 100 ms of all measured masters. */
export const usePowers = (masters: readonly MasterRecord[]): ReadonlyMap<string, Float32Array> =>
  useOfMasters(masters, 'powers', fetchPowers);

export const treatmentsKey = ['treatments'] as const;

/** Saved treatments, for all albums. */
export function useTreatments(): UseQueryResult<TreatmentPreset[]> {
  return useQuery({ queryKey: treatmentsKey, queryFn: listTreatments });
}

const listTreatments = (): Promise<TreatmentPreset[]> => call(CONTRACT.treatments, {});

/** What the server keeps under a name at this moment, for a way back: what was drawn may be older. */
export const keptTreatment = (name: string): Promise<TreatmentPreset | undefined> =>
  listTreatments().then((all) => all.find((each) => each.name === name));
