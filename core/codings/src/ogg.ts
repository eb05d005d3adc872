import { oggChapterTags } from './chapters.js';
import type { CodingFacts, CodingFiles } from './coding.js';
import { containerTags } from './container-tags.js';
import { decodedBack, encoded, kbit } from './encoded.js';
import { carriedIn } from './file-text.js';
import type { Encoder } from './file-ports.js';

export const facts = {
  ...{ format: 'ogg', formatLabel: 'Ogg Vorbis', label: 'Vorbis (Ogg)', tags: 'vorbis', cue: 'WAVE' },
  ...{ lossy: true, bits: [], rates: [44_100, 48_000], qualities: [] },
  bitrate: { least: 64, most: 500, usual: 256, only: null },
  ...{ loudness: 'replaygain', size: 'about' },
} as const satisfies CodingFacts;

const encoder: Encoder = {
  options: (order) => ['-c:a', 'libvorbis', ...kbit(order), '-serial_offset', '1', '-f', 'ogg'],
};

export const files: CodingFiles = {
  open: (file, _, ports) => encoded(file, facts.label, encoder, ports),
  tag: (file, picture, ports) =>
    ports.tag(file.path, 'vorbis', [...containerTags(file.tags, 'vorbis'), ...oggChapterTags(file)], picture),
  openBack: decodedBack,
  carried: (file, _, report) => carriedIn('vorbis', file, report),
  encoder,
};
