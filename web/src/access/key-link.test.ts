import { describe, expect, it } from 'vitest';
import { addressWithKey, keyInAddress, keyInText } from './key-link.js';

describe('the address that lets somebody in', () => {
  it('carries the key behind the #, and nothing else is taken for one', () => {
    expect(addressWithKey('https://studio.example', 'a-B_9')).toBe('https://studio.example/#key=a-B_9');
    expect(keyInAddress('#key=a-B_9')).toBe('a-B_9');
    for (const other of ['', '#', '#key=', '#key=a b', '#notes', '#key=a&b', `#key=${'x'.repeat(201)}`])
      expect(keyInAddress(other)).toBeNull();
  });
  it('can be pasted whole, or the key by itself', () => {
    expect(keyInText('http://127.0.0.1:4680/#key=a-B_9')).toBe('a-B_9');
    expect(keyInText('  a-B_9\n')).toBe('a-B_9');
  });
});
