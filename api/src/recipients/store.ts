import type { Recipient } from './recipient.js';

export const store: Recipient = {
  label: 'store',
  action: 'Send the package',
  takes: ['package'],
  shipment: ({ files, release }) => ({ files, what: release }),
  states: { checked: 'checked and accepted', live: 'live', replaced: 'replaced by a newer revision' },
  simulatedId: '00000000-0000-4000-8000-000000000003',
};
