import { ENDPOINTS } from '@oiseau/api';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { albumWithTones, startHarness, type Harness } from './testing/harness.js';

let harness: Harness;
let album: string;
beforeAll(async () => {
  harness = await startHarness();
  album = (await albumWithTones(harness, [300])).id;
});
afterAll(() => harness.close());

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
  async (_, { method, path, takesFile, body }) => {
    const paths = new Set([...ODD_PARAMS, album].map((odd) => path.replace(/:\w+/g, odd)));
    for (const at of paths)
      for (const query of ODD_QUERIES)
        for (const sent of method === 'GET' ? [undefined] : query === '' ? ODD_BODIES : ['{}']) {
          // Taking the session's own key would end the test.
          if (path === '/session' && method === 'DELETE') continue;
          const type = takesFile && !body ? 'application/octet-stream' : 'application/json';
          const response = await harness.fetch(`/api${at}${query}`, {
            method,
            ...(sent === undefined ? {} : { body: sent, headers: { 'Content-Type': type } }),
          });
          const text = await response.text();
          const asked = `${method} ${at}${query} ${sent ?? ''}`;
          expect(response.status, asked).toBeLessThan(500);
          expect(text, asked).not.toContain(harness.media.root);
          if (response.status >= 400)
            expect(JSON.parse(text), asked).toMatchObject({ error: expect.any(String) as string });
        }
  },
);
