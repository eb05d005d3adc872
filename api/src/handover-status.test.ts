import { describe, expect, it } from 'vitest';
import { handoverStatus, isHandoverActive, statusOf, type HandoverFacts } from './handover-status.js';

const facts = (change: Partial<HandoverFacts>): HandoverFacts => ({
  ...{ state: 'running', paused: false, progress: null, told: null },
  ...change,
});
const phase = (of: string) => facts({ progress: { phase: of } });
const told = (state: string, final: boolean) => facts({ state: 'done', told: { state, final } });

describe('the status of a hand-over', () => {
  it.each([
    [facts({ state: 'queued' }), 'queued'],
    [facts({}), 'uploading'],
    [phase('send'), 'uploading'],
    [phase('again'), 'retrying'],
    [phase('measuring'), 'processing'],
    [phase('wants-medium'), 'waiting-for-disc'],
    [phase('read'), 'reading-back'],
    [facts({ state: 'stopped', paused: true }), 'paused'],
    [facts({ state: 'stopped' }), 'stopped'],
    [facts({ state: 'failed' }), 'failed'],
    [told('refused', true), 'refused'],
    [told('cancelled', true), 'refused'],
    [told('in-production', false), 'accepted'],
    [told('shipped', true), 'completed'],
    [facts({ state: 'done' }), 'accepted'],
  ] as const)('of %j is %s', (given, wanted) => {
    expect(statusOf(given)).toBe(wanted);
  });

  it('is under way as long as a job of ours works on it', () => {
    expect(handoverStatus.options.filter((each) => !isHandoverActive(each))).toEqual([
      ...['paused', 'stopped', 'failed', 'refused', 'accepted', 'completed'],
    ]);
  });
});
