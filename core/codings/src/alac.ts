import type { CodingFacts, CodingFiles } from './coding.js';
import { containerTags } from './container-tags.js';
import { decodedBack, encodedM4a, m4a } from './encoded.js';
import { carriedIn } from './file-text.js';
import { LOSSLESS } from './pcm.js';
import type { Encoder } from './file-ports.js';

export const facts = {
  ...{ format: 'm4a', formatLabel: 'M4A', label: 'ALAC (M4A)', tags: 'mp4', cue: 'WAVE' },
  ...LOSSLESS,
} as const satisfies CodingFacts;

const encoder: Encoder = {
  options: ({ format, rate }) => [
    ...['-c:a', 'alac', '-sample_fmt', format === 'int16' ? 's16p' : 's32p'],
    ...(format === 'int24' ? ['-bits_per_raw_sample', '24'] : []),
    ...m4a(rate),
  ],
};

export const files: CodingFiles = {
  open: (file, _, ports) => encodedM4a(file, facts.label, encoder, ports),
  tag: (file, picture, ports) => ports.tag(file.path, 'mp4', containerTags(file.tags, 'mp4'), picture),
  openBack: decodedBack,
  carried: (file, _, report) => carriedIn('mp4', file, report),
  encoder,
};
