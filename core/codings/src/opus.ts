import { oggChapterTags } from './chapters.js';
import type { CodingFacts, CodingFiles } from './coding.js';
import { containerTags } from './container-tags.js';
import { decodedBack, encoded, kbit } from './encoded.js';
import { carriedIn } from './file-text.js';
import type { Encoder } from './file-ports.js';

export const facts = {
  ...{ format: 'opus', formatLabel: 'Opus', label: 'Opus', tags: 'vorbis', cue: 'WAVE' },
  // Opus codes at 48 kHz whatever its input [RFC 6716].
  ...{ lossy: true, bits: [], rates: [48_000], qualities: [] },
  bitrate: { least: 16, most: 510, usual: 160, only: null },
  ...{ loudness: 'r128', size: 'about' },
} as const satisfies CodingFacts;

const encoder: Encoder = {
  options: (order) => ['-c:a', 'libopus', ...kbit(order), '-vbr', 'on', '-serial_offset', '1', '-f', 'opus'],
};

export const files: CodingFiles = {
  open: (file, _, ports) => encoded(file, facts.label, encoder, ports),
  tag: (file, picture, ports) =>
    ports.tag(file.path, 'vorbis', [...containerTags(file.tags, 'vorbis'), ...oggChapterTags(file)], picture),
  openBack: decodedBack,
  carried: (file, _, report) => carriedIn('vorbis', file, report),
  encoder,
};
