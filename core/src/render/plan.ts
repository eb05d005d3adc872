import type { Album } from '../album/album.js';
import type { Deliverable } from '../album/deliverable.js';
import type { Layout } from '../album/sequence.js';
import type { PcmSource } from '../pcm/block.js';
import { planContinuous, planTracks } from './plan-files.js';
import { planCue, planDdp } from './plan-image.js';
import type { Plan } from './planned.js';

/**
 * Everything that a deliverable will write, as it will be named and as long as it will be.
 * @param masters a source (or its facts) for everything that sounds in the album, in order
 */
export function planDeliverable(
  album: Album,
  layout: Layout,
  masters: readonly Pick<PcmSource, 'rate'>[],
  deliverable: Deliverable,
  revision: number,
): Plan {
  const ofTracks = album.hidden ? masters.slice(1) : masters;
  switch (deliverable.kind) {
    case 'ddp':
      return planDdp(album, layout, deliverable);
    case 'cue':
      return planCue(album, layout, deliverable);
    case 'tracks':
      return planTracks(album, layout, ofTracks, deliverable, revision);
    case 'continuous':
      return planContinuous(album, layout, masters, deliverable);
    default:
      return deliverable satisfies never;
  }
}
