import { ENDPOINTS } from '@oiseau/api';
import pLimit from 'p-limit';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { albumWithTones, startHarness, type Harness } from './testing/harness.js';

let harness: Harness;
let album: string;
beforeAll(async () => {
  harness = await startHarness();
  album = (await albumWithTones(harness, [300])).id;
});
afterAll(() => harness.close());

/** Requests under way at a time: most of an answer is waiting. */
const AT_A_TIME = 16;

const ODD_PARAMS = [
  'constructor',
  '__proto__',
  '%00',
  'é',
  '..%2f..%2fetc',
  "1'--",
  '0',
  '-1',
  '1e309',
  'x'.repeat(3000),
];
const ODD_QUERIES = [
  '',
  '?name=',
  '?name=%00',
  '?name=a&name=b',
  '?name[x]=1',
  `?name=${'a'.repeat(600)}.wav`,
  '?step=1e9',
  '?before=x',
  '?revision=-1',
];
const ODD_BODIES = [
  '',
  'null',
  '[]',
  '0',
  '"x"',
  '{}',
  '{"__proto__":{"x":1}}',
  '{"constructor":1}',
  '{"title":"\\u0000"}',
  '{"upload":"../x","name":"a.wav"}',
  '{"key":""}',
  '{"album":{}}',
  '{"name":"","role":"king","albums":null}',
  '[[[[',
  '{"a":',
];

it.each(ENDPOINTS.map((each) => [`${each.method} ${each.path}`, each] as const))(
  'answers odd requests in a sentence: %s',
  async (_, { method, path, takesFile, body: expected }) => {
    const at = (odd: string): string => path.replace(/:\w+/g, odd);
    const type = takesFile && !expected ? 'application/octet-stream' : 'application/json';
    const ask = async (to: string, query: string, sent: string | undefined): Promise<void> => {
      const response = await harness.fetch(`/api${to}${query}`, {
        method,
        ...(sent === undefined ? {} : { body: sent, headers: { 'Content-Type': type } }),
      });
      const text = await response.text();
      const words = `${method} ${to}${query} ${sent ?? ''}`;
      expect(response.status, words).toBeLessThan(500);
      expect(text, words).not.toContain(harness.media.root);
      if (response.status >= 400)
        expect(JSON.parse(text), words).toMatchObject({ error: expect.any(String) as string });
    };
    const noBody = method === 'GET';
    // Each odd thing beside what is right, and beside one other odd thing: all with all would be thirty thousand.
    const asked = new Map<string, [string, string, string | undefined]>();
    const add = (...given: [string, string, string | undefined]): void =>
      void asked.set(JSON.stringify(given), given);
    for (const odd of [...ODD_PARAMS, album]) add(at(odd), '', noBody ? undefined : '{}');
    for (const param of [album, '__proto__']) {
      for (const query of ODD_QUERIES) add(at(param), query, noBody ? undefined : '{}');
      for (const body of noBody ? [] : ODD_BODIES) add(at(param), '', body);
    }
    // Ending the session's own key would end the test.
    if (path === '/session' && method === 'DELETE') return;
    const lane = pLimit(AT_A_TIME);
    await Promise.all([...asked.values()].map((given) => lane(() => ask(...given))));
  },
);
