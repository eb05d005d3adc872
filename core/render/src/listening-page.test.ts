import { describe, expect, it } from 'vitest';
import { album } from '@oiseau/album/testing';
import { source } from '@oiseau/audio/testing';
import { secondsToTicks } from '@oiseau/audio/time';
import { answerSchema, readListeningHtml } from '@oiseau/formats/papers';
import { base64 } from './files/listening-page.js';
import { master, render } from './testing.js';

const two = {
  ...album(
    { master: master(1), title: '</script><script>alert(1)</script>', performer: 'Guest & “Co”' },
    { master: master(2), title: 'Ebb', gapBefore: secondsToTicks(1.5) },
  ),
  ...{ title: 'Nine <Tides>', performer: 'Marram Lamps' },
};
const sources = () => [source(44_100, 5, () => 0.1), source(44_100, 4, () => 0.1)];

describe('a folder to listen to', () => {
  it('has a file for each part and a page that knows its tracks, its gaps and its bytes', async () => {
    const { folder, plan, proof } = await render(two, sources(), { kind: 'listening', format: 'wav' });
    expect(proof.files.flatMap(({ tests }) => tests.filter(({ passed }) => !passed))).toEqual([]);
    expect(plan.files.map(({ path }) => path)).toEqual(['audio/d.wav', 'listen.html', 'SHA256SUMS']);
    const html = new TextDecoder().decode(folder.bytes('listen.html'));
    const { page, leadsElsewhere } = readListeningHtml(html);
    expect(leadsElsewhere).toBe(false);
    expect(page).toEqual({
      ...{ title: 'Nine <Tides>', performer: 'Marram Lamps', deliverable: 'd', revision: 1 },
      parts: [
        {
          ...{ kind: 'disc', label: '1', path: 'audio/d.wav', seconds: 10.5 },
          tracks: [
            {
              ...{ number: 1, title: '</script><script>alert(1)</script>', performer: 'Guest & “Co”' },
              ...{ start: 0, end: 5 },
            },
            // 5 s and a gap of 1.5 s: frame 487.5, so the mark stands at 487.
            {
              number: 2,
              title: 'Ebb',
              performer: '',
              start: expect.closeTo(487 / 75, 9) as number,
              end: 10.5,
            },
          ],
        },
      ],
      files: [{ path: 'audio/d.wav', sha256: proof.files[0]?.sha256 }],
    });
    // Words of people end no element and begin none.
    expect(html.match(/<script/g)?.length).toBe(3);
    expect(html).toContain('<h1>Nine &lt;Tides&gt;</h1>');
  });

  it('leads nowhere else', () => {
    expect(readListeningHtml('<a href="https://elsewhere.example">').leadsElsewhere).toBe(true);
    expect(readListeningHtml('<img src="cover.jpg">').leadsElsewhere).toBe(true);
    expect(readListeningHtml('<img src="data:image/png;base64,AA==">').leadsElsewhere).toBe(false);
  });

  it('writes its cover as base64', () => {
    // RFC 4648 10.
    const of = (text: string): string => base64(new TextEncoder().encode(text));
    expect(['', 'f', 'fo', 'foo', 'foob', 'fooba', 'foobar'].map(of)).toEqual([
      ...['', 'Zg==', 'Zm8=', 'Zm9v', 'Zm9vYg==', 'Zm9vYmE=', 'Zm9vYmFy'],
    ]);
  });
});

describe('an answer', () => {
  const whole = {
    ...{ format: 'oiseau-answer', version: 1, title: 'Nine Tides', revision: 3, deliverable: 'to listen to' },
    ...{ name: 'Ebba', verdict: 'approved', words: '', notes: [] },
    files: [{ path: 'audio/d.mp3', sha256: 'a'.repeat(64) }],
  };
  it('names who, what and which bytes', () => {
    expect(answerSchema.safeParse(whole).success).toBe(true);
    for (const change of [{ name: ' ' }, { verdict: 'perhaps' }, { files: [] }, { version: 2 }, { more: 1 }])
      expect(answerSchema.safeParse({ ...whole, ...change }).success).toBe(false);
  });
});
