import { english } from '@oiseau/messages';
import { describe, expect, it } from 'vitest';
import { RECEIVER_KINDS, recipientOf, stateWords } from './recipients.js';

const release = { title: 'Nine Tides', performer: 'Marram Lamps', revision: 3 };
const DISCS = [
  'disc-1/image.cue',
  'disc-1/image.wav',
  'disc-2/image.cue',
  'disc-2/image.wav',
  'SHA256SUMS',
  'proof.json',
];

describe('a recipient', () => {
  it('has an id of its own as a simulation, whatever its kind', () => {
    const ids = RECEIVER_KINDS.map((kind) => recipientOf(kind).simulatedId);
    expect(new Set(ids).size).toBe(RECEIVER_KINDS.length);
  });

  it('has a label for shared and own states, and shows an unknown one as received', () => {
    expect(english(stateWords('drive', 'testing'))).toBe('test write');
    expect(english(stateWords('plant', 'refused'))).toBe('refused');
    expect(english(stateWords('shop', 'live'))).toBe('live');
    expect(english(stateWords('service', 'on-the-moon'))).toBe('on-the-moon');
  });
});

describe('the shipment', () => {
  it('of a drive is one disc: its files, its cue sheet, and how it is written', () => {
    const writing = { speed: 8, test: true, copies: 2, part: 'disc-2' };
    expect(recipientOf('drive').shipment({ files: DISCS, release, writing })).toEqual({
      files: ['disc-2/image.cue', 'disc-2/image.wav'],
      what: { ...release, image: 'disc-2/image.cue', speed: 8, test: true, copies: 2 },
    });
  });

  it('of a drive without a cue sheet names the folder of the disc description', () => {
    const writing = { speed: 16, test: false, copies: 1, part: 'disc-1' };
    const files = ['disc-1/DDPID', 'disc-1/IMAGE.DAT', 'disc-2/DDPID'];
    expect(recipientOf('drive').shipment({ files, release, writing })).toMatchObject({
      files: ['disc-1/DDPID', 'disc-1/IMAGE.DAT'],
      what: { image: 'disc-1/' },
    });
    expect(
      recipientOf('drive').shipment({ files: ['DDPID', 'proof.json'], release, writing: null }),
    ).toMatchObject({ files: ['DDPID'], what: { image: '', speed: 16, test: false, copies: 1 } });
  });

  it('of a plant is everything and the PQ sheets; of a store the package; of a service audio and words', () => {
    const given = { files: DISCS, release, writing: null };
    expect(recipientOf('plant').shipment(given)).toEqual({ files: DISCS, sheets: true, what: release });
    expect(recipientOf('shop').shipment(given)).toEqual({ files: DISCS, what: release });
    expect(recipientOf('service').shipment(given)).toEqual({ files: 'audio', words: true, what: release });
  });
});
