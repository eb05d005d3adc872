import { isImage } from '@oiseau/album/model';
import type { Finding, Rule } from './finding.js';

/** An image of a disc is ordered only where the album has one, and what a cutting room takes only where it has a side. */
export const noDisc: Rule = ({ album, parts }) => {
  const lacks = (kind: 'disc' | 'side'): boolean => !parts.some((part) => part.kind === kind);
  return album.deliverables.flatMap((deliverable): Finding[] => {
    const { name } = deliverable;
    if (isImage(deliverable) && lacks('disc'))
      return [{ code: 'no-disc', severity: 'error', deliverable: name }];
    return deliverable.kind === 'cutting-room' && lacks('side')
      ? [{ code: 'no-side', severity: 'error', deliverable: name }]
      : [];
  });
};
