import { afterEach, expect, test, vi } from 'vitest';
import { HttpByteSource } from './http-byte-source.js';

const SIZE = 600_000;
const bytes = Uint8Array.from({ length: SIZE }, (_, n) => n % 251);

/** A server of one file: the given requests (counted from 0) are never answered. */
function serve(unanswered: (request: number) => boolean) {
  const ranges: string[] = [];
  vi.stubGlobal('fetch', (_url: string, { headers, signal }: RequestInit) => {
    const range = (headers as Record<string, string>).Range ?? '';
    ranges.push(range);
    const [from = 0, to = 0] = range.replace('bytes=', '').split('-').map(Number);
    if (!unanswered(ranges.length - 1))
      return Promise.resolve(new Response(bytes.slice(from, to + 1), { status: 206 }));
    return new Promise((_resolve, reject) =>
      signal?.addEventListener('abort', () => reject(signal.reason as Error)),
    );
  });
  return ranges;
}

/** Deadlines that pass after 10 ms instead of seconds. */
const passQuickly = (): void => {
  const timeout = AbortSignal.timeout.bind(AbortSignal);
  vi.spyOn(AbortSignal, 'timeout').mockImplementation(() => timeout(10));
};

afterEach(() => {
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

test('a read across pieces fetches each once', async () => {
  const ranges = serve(() => false);
  const source = new HttpByteSource('/audio', SIZE);
  expect(await source.read(262_000, 400)).toEqual(bytes.slice(262_000, 262_400));
  expect(await source.read(524_287, 100_000)).toEqual(bytes.slice(524_287));
  expect(ranges).toEqual(['bytes=0-262143', 'bytes=262144-524287', 'bytes=524288-599999']);
});

test('a request without a response is sent again', async () => {
  passQuickly();
  const ranges = serve((request) => request === 0);
  const source = new HttpByteSource('/audio', SIZE);
  expect(await source.read(10, 5)).toEqual(bytes.slice(10, 15));
  expect(ranges).toEqual(['bytes=0-262143', 'bytes=0-262143']);
});

test('after three tries a read fails, and the next read asks anew', async () => {
  passQuickly();
  const ranges = serve((request) => request < 3);
  const source = new HttpByteSource('/audio', SIZE);
  await expect(source.read(0, 4)).rejects.toThrow();
  expect(ranges).toHaveLength(3);
  expect(await source.read(0, 4)).toEqual(bytes.slice(0, 4));
});
