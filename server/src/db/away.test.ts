import { describe, expect, it } from 'vitest';
import { isAway, noteOfDatabase, untilBack } from './away.js';

const other = (code: string, more: object = {}): Error => Object.assign(new Error(code), { code, ...more });
/** An error as a query throws it. */
function failed(code: string, more: object = {}): Error {
  const error = other(code, more);
  expect(() => noteOfDatabase(error)).toThrow(error);
  return error;
}

describe('a database that is away', () => {
  it('is told from a query that is wrong, and from a file that is not there', () => {
    for (const code of ['ECONNREFUSED', 'PROTOCOL_CONNECTION_LOST', 'PROTOCOL_SEQUENCE_TIMEOUT'])
      expect(isAway(failed(code))).toBe(true);
    expect(isAway(failed('ENOENT', { syscall: 'connect' }))).toBe(true);
    expect(isAway(failed('ENOENT', { syscall: 'open' }))).toBe(false);
    expect(isAway(failed('ER_PARSE_ERROR'))).toBe(false);
    expect(isAway('ECONNREFUSED')).toBe(false);
    // A line to a receiver, or a pipe to an encoder, that breaks is none of the database’s.
    for (const code of ['ECONNREFUSED', 'EPIPE']) expect(isAway(other(code))).toBe(false);
  });

  it('is waited for by what must not be lost', async () => {
    let tries = 0;
    const work = (): Promise<string> => {
      tries += 1;
      return tries < 3 ? Promise.reject(failed('ECONNREFUSED')) : Promise.resolve('kept');
    };
    await expect(untilBack(work)).resolves.toBe('kept');
    await expect(untilBack(() => Promise.reject(failed('ER_PARSE_ERROR')))).rejects.toThrow('ER_PARSE_ERROR');
  });
});
