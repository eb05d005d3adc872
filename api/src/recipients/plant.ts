import { msg } from '@oiseau/messages';
import * as z from 'zod';
import type { Recipient } from './recipient.js';

/** A plant's own table of marks, for each disc. */
export const plantReceipt = z.looseObject({
  number: z.string(),
  discs: z.array(
    z.looseObject({
      title: z.string(),
      upc: z.string(),
      leadOut: z.string(),
      marks: z.array(
        z.looseObject({
          ...{ track: z.number(), index: z.number(), at: z.string(), isrc: z.string(), title: z.string() },
        }),
      ),
    }),
  ),
});

export const plant: Recipient = {
  label: msg('pressing plant'),
  action: msg('Send the image'),
  takes: ['ddp'],
  shipment: ({ files, release }) => ({ files, sheets: true, what: release }),
  states: {
    checked: msg('checked and accepted'),
    'in-production': msg('in production'),
    shipped: msg('shipped'),
  },
  simulatedId: '00000000-0000-4000-8000-000000000002',
};
