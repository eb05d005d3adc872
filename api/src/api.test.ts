import { describe, expect, it } from 'vitest';
import * as z from 'zod';
import { addressOf, ApiFailure, ask, CONTRACT, ENDPOINTS } from './index.js';
import { endpoint } from './endpoint.js';
import { openApi } from './openapi.js';

const answering =
  (status: number, text: string) =>
  (address: string, request: RequestInit): Promise<Response> => {
    asked.push({ address, request });
    return Promise.resolve(new Response(status === 204 ? null : text, { status }));
  };
const asked: { address: string; request: RequestInit }[] = [];

describe('addresses', () => {
  it('have every variable part escaped, so that a name is never a path', () => {
    expect(addressOf(CONTRACT.deliveryFile, { params: { id: 'd1', path: '../a b/1?.wav' } })).toBe(
      '/api/deliveries/d1/files/..%2Fa%20b%2F1%3F.wav',
    );
    expect(addressOf(CONTRACT.sendPicture, { query: { name: 'a&b=c.png' } })).toBe(
      '/api/pictures?name=a%26b%3Dc.png',
    );
    expect(addressOf(CONTRACT.pqSheet, { params: { id: 'a' }, query: { revision: undefined } })).toBe(
      '/api/albums/a/pq-sheet.pdf',
    );
  });
});

describe('a call', () => {
  it('sends its body as JSON, or a file as it is', async () => {
    asked.length = 0;
    await ask(answering(201, '{"id":"x"}'), CONTRACT.createAlbum, { body: { title: 'Nine Tides' } });
    await ask(
      answering(201, JSON.stringify({ sha256: 'ab'.repeat(32) })),
      CONTRACT.sendPicture,
      { query: { name: 'c.png' } },
      { file: new Uint8Array([1, 2]) },
    );
    expect(asked.map(({ address, request: { method, body } }) => [method, address, body])).toEqual([
      ['POST', '/api/albums', '{"title":"Nine Tides"}'],
      ['POST', '/api/pictures?name=c.png', new Uint8Array([1, 2])],
    ]);
  });

  it('gives nothing where there is nothing to give', async () => {
    expect(await ask(answering(204, ''), CONTRACT.forgetPreset, { params: { name: 'x' } })).toBeUndefined();
  });

  it.each([
    ['{"untouched":"no"}', 'untouched'],
    ['{}', 'untouched'],
    ['<html>', 'the answer'],
  ])('names the field of an answer that does not fit: %s', async (text, field) => {
    await expect(ask(answering(200, text), CONTRACT.status, {})).rejects.toThrow(
      `The server’s response to GET /api/status is invalid: ${field}: `,
    );
  });

  it('names a field deep in a list', async () => {
    const list = endpoint('GET', '/list', 'any', 'A list.', {
      answer: z.array(z.object({ facts: z.object({ rate: z.number() }) })),
    });
    const text = JSON.stringify([{ facts: { rate: 1 } }, { facts: { rate: '1' } }]);
    await expect(ask(answering(200, text), list, {})).rejects.toThrow('invalid: [1].facts.rate: ');
  });

  it('that is refused says why, with its details; without a sentence it says the status', async () => {
    const refusal = async (status: number, text: string) =>
      ask(answering(status, text), CONTRACT.duplicateAlbum, { params: { id: 'a' } }).catch(
        (error: unknown) => error,
      );
    const told = await refusal(409, '{"error":"“Glass” uses this master.","code":"conflict","same":true}');
    expect(told).toBeInstanceOf(ApiFailure);
    expect(told).toMatchObject({
      status: 409,
      message: '“Glass” uses this master.',
      details: { same: true },
    });
    expect(await refusal(502, '<html>')).toMatchObject({
      status: 502,
      message: 'The server responded with status 502.',
    });
    // Done, but not in the way that was agreed.
    expect(await refusal(200, '{"id":"b"}')).toMatchObject({ status: 200 });
  });

  it('without an answer says so', async () => {
    const cause = new TypeError('fetch failed');
    await expect(ask(() => Promise.reject(cause), CONTRACT.shelf, { query: {} })).rejects.toMatchObject({
      status: 0,
      message: 'The server doesn’t respond. Is Oiseau still running?',
      cause,
    });
  });
});

describe('the contract', () => {
  it('answers each call with one thing, and each address and method with one call for JSON and one for files', () => {
    for (const each of ENDPOINTS)
      expect(each.answer === undefined || each.file === null, each.path).toBe(true);
    const kinds = ENDPOINTS.map(({ method, path, takesFile }) => `${method} ${path} ${takesFile}`);
    expect(new Set(kinds).size).toBe(kinds.length);
  });

  it('is told as OpenAPI, every call and every variable part of its path', () => {
    const { openapi, paths } = openApi() as {
      openapi: string;
      paths: Record<
        string,
        Record<string, { parameters?: { name: string; in: string; required?: boolean }[] }>
      >;
    };
    expect(openapi).toBe('3.1.0');
    for (const { method, path } of ENDPOINTS) {
      const operation = paths[`/api${path.replace(/:(\w+)/g, '{$1}')}`]?.[method.toLowerCase()];
      const inPath = (operation?.parameters ?? []).filter((one) => one.in === 'path').map(({ name }) => name);
      expect(inPath, path).toEqual([...path.matchAll(/:(\w+)/g)].map(([, name]) => name));
    }
    const masters = paths['/api/albums/{id}/masters']?.post as unknown as {
      requestBody: { content: object };
    };
    expect(Object.keys(masters.requestBody.content).sort()).toEqual([
      'application/json',
      'application/octet-stream',
    ]);
  });
});
