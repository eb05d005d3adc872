import { aiffHeader, swapWords, WORD_BYTES } from '@oiseau/audio/pcm';
import type { CodingFacts, CodingFiles } from './coding.js';
import { id3Container } from './container-tags.js';
import { carriedIn, id3Of, namedMarks } from './file-text.js';
import { chunkMarks, PCM, readBack } from './pcm.js';

export const facts = {
  ...{ format: 'aiff', formatLabel: 'AIFF', label: 'AIFF', tags: 'id3', cue: 'AIFF' },
  ...PCM,
} as const satisfies CodingFacts;

export const files: CodingFiles = {
  async open(file, picture, ports) {
    const head = aiffHeader(file.format, file.rate, file.length, {
      marks: namedMarks(file),
      id3: id3Of(file, picture),
    });
    const sink = await ports.createFile(file.path);
    await sink.write(head);
    const step = WORD_BYTES[file.format];
    return { ...sink, write: (words) => sink.write(swapWords(words.slice(), step)) };
  },
  openBack: readBack,
  carried: (file, _, report) => carriedIn(id3Container(file.id3), file, report),
  marks: chunkMarks,
};
