import { msg } from '@oiseau/messages';
import * as z from 'zod';
import type { Recipient } from './recipient.js';

/** How loud a streaming service will play each file. */
export const serviceReceipt = z.looseObject({
  targetLufs: z.number(),
  tracks: z.array(
    z.looseObject({
      title: z.string(),
      lufs: z.number().nullable(),
      gainDb: z.number(),
      playsAtLufs: z.number().nullable(),
    }),
  ),
});

export const service: Recipient = {
  label: msg('streaming service'),
  action: msg('Send the files'),
  takes: ['tracks', 'continuous'],
  shipment: ({ release }) => ({ files: 'audio', words: true, what: release }),
  states: { measuring: msg('measuring'), measured: msg('accepted') },
  simulatedId: '00000000-0000-4000-8000-000000000004',
};
