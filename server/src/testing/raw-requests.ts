import { request, type IncomingMessage, type RequestOptions } from 'node:http';
import type { Harness } from './harness.js';

/** An answer as it came. */
export interface Raw {
  readonly status: number;
  readonly headers: IncomingMessage['headers'];
  readonly text: string;
}

export const JSON_TYPE = { 'Content-Type': 'application/json' };

/** What a script shows. */
export const bearer = (key: string): { Authorization: string } => ({ Authorization: `Bearer ${key}` });

/** A request with exactly these headers, as a page's browser or a foreign script would send it. */
export function raw(
  { url }: Pick<Harness, 'url'>,
  method: string,
  path: string,
  headers: Record<string, string> = {},
  body?: string,
): Promise<Raw> {
  const { hostname, port, pathname, search } = new URL(path, url);
  return rawAt({ hostname, port, path: pathname + search, method, headers }, body);
}

/** A request whose path goes out as it is, dots and all. */
export function rawAt(options: RequestOptions, body?: string): Promise<Raw> {
  return new Promise((resolve, reject) => {
    const asked = request(options, (response) => {
      let text = '';
      response.setEncoding('utf8').on('data', (chunk: string) => (text += chunk));
      response.on('end', () =>
        resolve({ status: response.statusCode ?? 0, headers: response.headers, text }),
      );
    });
    asked.on('error', reject);
    asked.end(body);
  });
}

/** Trades a key for what a browser keeps of a session. */
export async function signIn(
  harness: Harness,
  key = harness.key,
): Promise<{ Cookie: string; header: string }> {
  const { status, headers } = await raw(harness, 'POST', '/api/session', JSON_TYPE, JSON.stringify({ key }));
  if (status !== 200) throw new Error(`no session: ${status}`);
  const [header = ''] = headers['set-cookie'] ?? [];
  return { Cookie: header.split(';')[0] ?? '', header };
}

/** Asks a call of the API with a key and, where it takes one, a body in JSON. */
export const askWith = (harness: Harness, key: string, method: string, path: string, body?: unknown) =>
  raw(
    harness,
    method,
    `/api${path}`,
    { ...bearer(key), ...JSON_TYPE },
    body === undefined ? undefined : JSON.stringify(body),
  );
