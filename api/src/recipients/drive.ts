import { msg } from '@oiseau/messages';
import { partOfPath } from '@oiseau/render';
import * as z from 'zod';
import type { Recipient } from './recipient.js';

/** A drive’s speeds and the disc that is loaded. */
export const driveFacts = z.looseObject({
  speeds: z.array(z.number()).default([]),
  medium: z.looseObject({ kind: z.enum(['none', '74', '80']), state: z.string() }).optional(),
});

/** Lists that are no part of a disc. */
const LISTS = ['proof.json', 'SHA256SUMS'];

export const drive: Recipient = {
  label: msg('drive'),
  action: msg('Write'),
  takes: ['ddp', 'cue'],
  shipment: ({ files, release, writing: order }) => {
    const { part = null, speed = 16, test = false, copies = 1 } = order ?? {};
    const sent = files.filter((name) => part === null || partOfPath(name) === part);
    const disc = sent.filter((name) => !LISTS.includes(name));
    const sheet = disc.find((name) => name.endsWith('.cue'));
    const image = sheet ?? (part === null ? '' : `${part}/`);
    return { files: disc, what: { ...release, image, speed, test, copies } };
  },
  states: {
    testing: msg('test write'),
    writing: msg('writing'),
    written: msg('reading back'),
    'wants-medium': msg('waiting for a blank disc'),
    done: msg('written and read back'),
  },
  simulatedId: '00000000-0000-4000-8000-000000000001',
};
