import { msg } from '@oiseau/messages';
import { describe, expect, it } from 'vitest';
import { readSentence, storedSentence } from './stored-sentence.js';

describe('why a job failed', () => {
  it('comes back as English and as a message for other languages', () => {
    const words = msg('The master of “{title}” no longer exists.', { title: 'Ebb "{2}"' });
    expect(readSentence(storedSentence(words))).toEqual({
      message: 'The master of “Ebb "{2}"” no longer exists.',
      words,
    });
  });

  it('stays as an earlier version stored it, whatever it looks like', () => {
    for (const text of ['The disk is full.', '{"text":', '{"text":5}', '{'])
      expect(readSentence(text)).toEqual({ message: text });
    expect(readSentence(null)).toEqual({ message: null });
  });

  it('is never longer than its column', () => {
    const long = msg('“{title}” is damaged.', { title: 'x'.repeat(3000) });
    expect(storedSentence(long)).toHaveLength(2000);
    expect(readSentence(storedSentence(long)).words).toBeUndefined();
    expect(storedSentence('y'.repeat(3000))).toHaveLength(2000);
  });
});
