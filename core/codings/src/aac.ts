import type { CodingFacts, CodingFiles } from './coding.js';
import { containerTags } from './container-tags.js';
import { decodedBack, encodedM4a, kbit, m4a } from './encoded.js';
import { carriedIn } from './file-text.js';
import type { Encoder } from './file-ports.js';

export const facts = {
  ...{ format: 'm4a', formatLabel: 'M4A', label: 'AAC (M4A)', tags: 'mp4', cue: 'WAVE' },
  ...{ lossy: true, bits: [], rates: [44_100, 48_000, 88_200, 96_000], qualities: [] },
  bitrate: { least: 64, most: 512, usual: 256, only: null },
  ...{ loudness: 'replaygain', size: 'about' },
} as const satisfies CodingFacts;

const encoder: Encoder = { options: (order) => ['-c:a', 'aac', ...kbit(order), ...m4a(order.rate)] };

export const files: CodingFiles = {
  open: (file, _, ports) => encodedM4a(file, facts.label, encoder, ports),
  tag: (file, picture, ports) => ports.tag(file.path, 'mp4', containerTags(file.tags, 'mp4'), picture),
  openBack: decodedBack,
  carried: (file, _, report) => carriedIn('mp4', file, report),
  encoder,
};
