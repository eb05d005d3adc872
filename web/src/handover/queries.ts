import {
  CONTRACT,
  isHandoverActive,
  type AnswerOf,
  type DeliveryRecord,
  type EventRecord,
  type HandoverRecord,
  type ReceiverRecord,
} from '@oiseau/api';
import { useQuery, type UseQueryResult } from '@tanstack/react-query';
import { useMemo } from 'react';
import { whileNotTold } from '../api/changes.js';
import { call } from '../api/client.js';
import { useAnswersOfAlbum } from '../checks/ChangedSinceApproval.js';
import { useInvitations } from '../proof/Listeners.js';
import { historyOf, type Entry } from './history.js';

export const handoversKey = (id: string) => ['handovers', id] as const;
export const receiversKey = ['receivers'] as const;
const aboutKey = (id: string) => ['receiver', id] as const;

/** How often a view asks while something is on its way, and how often for what a plant or a shop may tell later. */
const BUSY_MS = 700;
const NEWS_MS = 5000;

/** What was handed over of an album, the newest first. */
export function useHandovers(id: string, enabled = true): UseQueryResult<HandoverRecord[]> {
  return useQuery({
    enabled,
    queryKey: handoversKey(id),
    queryFn: () => call(CONTRACT.handovers, { params: { id } }),
    refetchInterval: ({ state }) =>
      state.data?.some(({ status }) => isHandoverActive(status))
        ? whileNotTold(BUSY_MS)
        : state.data?.some(({ status }) => status === 'accepted')
          ? whileNotTold(NEWS_MS)
          : false,
  });
}

export function useReceivers(enabled = true): UseQueryResult<ReceiverRecord[]> {
  return useQuery({ queryKey: receiversKey, queryFn: () => call(CONTRACT.receivers, {}), enabled });
}

/** What a receiver says of itself at the moment; asked again while it is looked at. */
export function useAbout(id: string): UseQueryResult<AnswerOf<typeof CONTRACT.askReceiver>> {
  return useQuery({
    queryKey: aboutKey(id),
    queryFn: () => call(CONTRACT.askReceiver, { params: { id } }),
    refetchInterval: NEWS_MS,
  });
}

/** Pages of downloads that are looked through: of more, the oldest are in the list of events alone. */
const MOST_PAGES = 20;

async function downloadsOf(id: string): Promise<EventRecord[]> {
  const all: EventRecord[] = [];
  for (let page = 0; page < MOST_PAGES; page++) {
    const before = all.at(-1)?.id;
    const events = await call(CONTRACT.albumEvents, {
      params: { id },
      query: { what: 'downloaded', ...(before === undefined ? {} : { before }) },
    });
    all.push(...events);
    if (events.length === 0) break;
  }
  return all;
}

/** Everything that has left and come back of an album, the newest first. */
export function useHistory(
  id: string,
  deliveries: readonly DeliveryRecord[] | undefined,
  handovers: readonly HandoverRecord[] | undefined,
): readonly Entry[] {
  const invitations = useInvitations(id).data;
  const answers = useAnswersOfAlbum(id);
  const { data: downloads } = useQuery({ queryKey: ['downloads', id], queryFn: () => downloadsOf(id) });
  return useMemo(
    () =>
      historyOf({
        handovers: handovers ?? [],
        invitations: invitations ?? [],
        answers,
        downloads: downloads ?? [],
        deliveries: deliveries ?? [],
      }),
    [handovers, invitations, answers, downloads, deliveries],
  );
}
