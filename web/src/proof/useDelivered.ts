import type { DeliveryRecord } from '@oiseau/api';
import { layOutDeliverable, type Part } from '@oiseau/album/layout';
import { planDeliverable, type Plan } from '@oiseau/render';
import { useMemo } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { useRevision } from '../api/queries.js';

export interface Delivered {
  readonly plan: Plan;
  readonly parts: readonly Part[];
}

/** The plan that a delivery was rendered by, from its revision. */
export function useDeliveredPlan(delivery: DeliveryRecord): Delivered | null {
  const { revision, deliverable } = delivery;
  const rendered = useRevision(useAlbum('id').id, revision);
  return useMemo(() => {
    if (!rendered) return null;
    const { album, day: revisionDate } = rendered;
    const masters = new Map(Object.entries(rendered.masters));
    const laidOut = layOutDeliverable(album, deliverable, masters);
    const plan = planDeliverable(deliverable, { ...laidOut, masters, revision, revisionDate });
    return { parts: laidOut.parts, plan };
  }, [rendered, deliverable, revision]);
}
