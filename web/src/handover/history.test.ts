import type { EventRecord, HandoverRecord, InvitationRecord } from '@oiseau/api';
import { deliverableSchema } from '@oiseau/album/model';
import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { historyAsCsv, historyOf } from './history.js';

const handover: HandoverRecord = {
  ...{ id: 'h', deliveryId: 'd', deliverable: 'plant', revision: 2, writing: null, askedBy: 'Ada' },
  receiver: { id: 'p', name: '=Groyne Press', kind: 'plant' },
  ...{ createdAt: '2026-11-20T10:00:00.000Z', sentAt: '2026-11-20T10:01:00.000Z', bytes: 4096 },
  ...{
    state: 'done',
    status: 'completed',
    paused: false,
    progress: null,
    message: null,
    trouble: null,
    sums: 'ab',
  },
  told: {
    state: 'refused',
    final: true,
    progress: 1,
    receipt: null,
    copies: [],
    reasons: [{ code: 'x', message: 'No lead-out.' }],
  },
};
const invitation: InvitationRecord = {
  ...{ id: 'i', deliveryId: 'd', deliverable: 'plant', revision: 2, name: 'Ebba Thole', listener: 'l' },
  ...{ hasPassword: false, createdAt: '2026-11-21T10:00:00.000Z', askedBy: 'Ada', takenBackAt: null },
  ...{ endsAt: '2026-11-30T10:00:00.000Z', openedAt: '2026-11-22T10:00:00.000Z', seenAt: null },
};
const answer = {
  ...({
    id: 'a',
    name: 'Ebba Thole',
    verdict: 'approved',
    words: '-fine',
    at: '2026-11-23T10:00:00.000Z',
  } as const),
  ...{ deliveryId: 'd', revision: 2, files: [{ path: 'x.wav', sha256: 'cd' }] },
};
const download: EventRecord = {
  ...{ id: 7, at: '2026-11-19T10:00:00.000Z', who: '', from: '', what: 'downloaded', album: null },
  ...{ detail: 'revision 2, plant', bytes: 12 },
};
const given = {
  ...{ handovers: [handover], invitations: [invitation], answers: [answer], downloads: [download] },
  deliveries: [{ id: 'd', deliverable: deliverableSchema.parse({ name: 'plant', kind: 'ddp' }) }],
};

describe('the history of what has left', () => {
  it('lists hand-overs, listeners, answers and downloads, the newest first', () => {
    expect(historyOf(given).map(({ what }) => what)).toEqual([
      'answer',
      'invitation',
      'handover',
      'download',
    ]);
  });

  it('is a table of the same, in which nothing that people wrote is a formula', () => {
    const { data } = Papa.parse<Record<string, string>>(
      historyAsCsv(historyOf(given), new Date('2026-11-24T12:00:00Z')),
      {
        header: true,
      },
    );
    expect(data).toMatchObject([
      {
        what: 'answered',
        deliverable: 'plant',
        revision: '2',
        by: 'Ebba Thole',
        state: 'approved',
        words: "'-fine",
        sha256: 'cd x.wav',
      },
      { what: 'invited to listen', deliverable: 'plant', revision: '2', receiver: 'Ebba Thole', by: 'Ada' },
      {
        what: 'sent',
        receiver: "'=Groyne Press",
        state: 'refused',
        words: 'No lead-out.',
        bytes: '4096',
        sha256: 'ab',
      },
      { what: 'downloaded', deliverable: 'revision 2, plant', bytes: '12' },
    ]);
  });
});
