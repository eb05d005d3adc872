import { msg } from '@oiseau/messages';
import type { Recipient } from './recipient.js';

export const store: Recipient = {
  label: msg('store'),
  action: msg('Send the package'),
  takes: ['package'],
  shipment: ({ files, release }) => ({ files, what: release }),
  states: {
    checked: msg('checked and accepted'),
    live: msg('live'),
    replaced: msg('replaced by a newer revision'),
  },
  simulatedId: '00000000-0000-4000-8000-000000000003',
};
