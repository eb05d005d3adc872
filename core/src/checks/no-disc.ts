import { isImage } from '../album/deliverable.js';
import type { Finding, Rule } from './finding.js';

/** An image of a disc is ordered only where the album has one. */
export const noDisc: Rule = ({ album, parts }) =>
  parts.some(({ kind }) => kind === 'disc')
    ? []
    : album.deliverables
        .filter(isImage)
        .map(({ name }): Finding => ({ code: 'no-disc', severity: 'error', deliverable: name }));
