import type { Delivery } from './delivery-repository.js';

/** Album and detail of an event about a delivery. */
export const deliveryEvent = ({
  albumId,
  revision,
  deliverable,
}: Pick<Delivery, 'albumId' | 'revision' | 'deliverable'>) => ({
  album: albumId,
  detail: `revision ${revision}, ${deliverable.name}`,
});
