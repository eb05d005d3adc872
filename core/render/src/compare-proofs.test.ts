import { english } from '@oiseau/messages';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { VERSION } from './version.js';
import { compareProofs, comparisonWords } from './compare-proofs.js';
import type { Made, Proof, ProofFile } from './proof-file.js';

const V1: Made = { oiseau: '0.1.0', ffmpeg: '7.0' };
const V2: Made = { oiseau: '0.2.0', ffmpeg: '7.0' };
const V3: Made = { oiseau: '0.2.0', ffmpeg: '7.1' };

const file = (path: string, sha256: string, words: string | null = null): ProofFile => ({
  ...{ path, sha256, bytes: 1, frames: null, rate: null },
  ...{ samplePeakDbfs: null, truePeakDbtp: null, integratedLufs: null },
  tests: words === null ? [] : [{ id: 'audio', passed: true, found: words, wanted: words }],
});
const proof = (files: ProofFile[], made?: Made): Proof => ({
  ...{ deliverable: 'x', revision: 1, proved: true, files },
  ...(made && { made }),
});
const words = (before: Proof, now: Proof): string =>
  english(comparisonWords(compareProofs(before, now), now.made ?? null));

describe('a render laid against an earlier one', () => {
  it('has the same bytes, whatever the order of its files', () => {
    expect(
      words(proof([file('a', '1'), file('b', '2')], V1), proof([file('b', '2'), file('a', '1')], V3)),
    ).toBe('The same bytes as before.');
  });

  it.each([
    ['other audio', '“a.wav” has different audio', file('a.wav', '1', 'x'), file('a.wav', '2', 'y')],
    [
      'other words around it',
      '“a.wav” has the same audio and different tags',
      file('a.wav', '1', 'x'),
      file('a.wav', '2', 'x'),
    ],
    ['other bytes', '“a.mp3” has different bytes', file('a.mp3', '1'), file('a.mp3', '2')],
  ])('says that a file has %s, and which version is behind it', (_, told, old, now) => {
    expect(words(proof([old], V1), proof([now], V2))).toBe(
      `Different bytes than before. ${told}. Oiseau 0.1.0 rendered the earlier files, 0.2.0 these.`,
    );
  });

  it('names files that are new and gone, and what it does not know', () => {
    const before = proof([file('a', '1'), file('b', '1')], V2);
    expect(compareProofs(before, proof([file('b', '1'), file('c', '1')], V3))).toEqual({
      before: V2,
      differences: [
        { path: 'c', what: 'new' },
        { path: 'a', what: 'gone' },
      ],
    });
    expect(words(before, proof([file('b', '1'), file('c', '1')], V3))).toBe(
      'Different bytes than before. “c” is new. One more file differs. FFmpeg 7.0 encoded the earlier files, 7.1 these.',
    );
    expect(words(proof([file('a', '1')]), proof([file('a', '2')], V3))).toMatch(/are unknown\.$/);
    expect(words(proof([file('a', '1')], V3), proof([file('a', '2')], V3))).toMatch(
      /so this is unexpected\.$/,
    );
  });
});

it('the version is that of the package', () => {
  const { version } = JSON.parse(readFileSync(new URL('../../../package.json', import.meta.url), 'utf8')) as {
    version: string;
  };
  expect(VERSION).toBe(version);
});
