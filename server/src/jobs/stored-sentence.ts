import { english, type Message } from '@oiseau/messages';
import { messageSchema } from '@oiseau/api';

/** Characters of a sentence in the database. */
const MOST = 2000;

/** Why something failed: in English, and as a message that a client words. */
export interface Sentence {
  readonly message: string | null;
  /** Left out of what an earlier version has stored. */
  readonly words?: Message | undefined;
}

/** A sentence for its column: the message as JSON, or its English alone where that would be too long. */
export function storedSentence(words: Message | string): string {
  if (typeof words === 'string') return words.slice(0, MOST);
  const text = JSON.stringify(words);
  return text.length <= MOST ? text : english(words).slice(0, MOST);
}

/** What `storedSentence` wrote, or the plain sentence of an earlier version. */
export function readSentence(column: unknown): Sentence {
  if (column === null || column === undefined) return { message: null };
  const text = String(column);
  if (!text.startsWith('{"text":')) return { message: text };
  try {
    const words = messageSchema.parse(JSON.parse(text));
    return { message: english(words), words };
  } catch {
    return { message: text };
  }
}
