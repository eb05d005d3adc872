import type { ByteSource } from '@oiseau/audio/pcm';
import type { CodingFiles } from './coding.js';

/** Bytes read at a time: 16-bit words, two channels. */
const BLOCK = 1 << 18;

async function* rawWords(source: ByteSource, room: () => Uint8Array): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < source.size;) {
    const into = room();
    const words = await source.read(at, Math.min(BLOCK, into.length), into);
    // The file was cut short meanwhile: its length tells.
    if (words.length === 0) return;
    yield words;
    at += words.length;
  }
}

/** Words and nothing else, as in a disc image. */
export const files: CodingFiles = {
  open: ({ path }, _, ports) => ports.createFile(path),
  openBack: ({ rate, format }, source) =>
    Promise.resolve({
      ...{ rate, format },
      words: (room) => rawWords(source, room),
      report: () => Promise.resolve({ tags: {}, hasPicture: false, chapters: [] }),
    }),
  carried: () => Promise.resolve([]),
};
