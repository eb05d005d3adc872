import type { AudioFile } from './audio-file.js';
import type { CodingFacts, CodingFiles } from './coding.js';
import { containerTags } from './container-tags.js';
import { decodedBack, encoded } from './encoded.js';
import { carriedIn } from './file-text.js';
import {
  flacMetadata,
  flacTextBytes,
  readFlacBlocks,
  type EmbeddedPicture,
  type FlacText,
} from './flac-blocks.js';
import { LOSSLESS } from './pcm.js';
import type { Encoder } from './file-ports.js';

export const facts = {
  ...{ format: 'flac', formatLabel: 'FLAC', label: 'FLAC', tags: 'vorbis', cue: 'WAVE' },
  ...LOSSLESS,
} as const satisfies CodingFacts;

const text = (file: AudioFile, picture: EmbeddedPicture | null): FlacText => ({
  tags: containerTags(file.tags, 'vorbis'),
  picture,
  marks: file.marks,
  upc: file.upc,
  length: file.length,
});

const encoder: Encoder = {
  options: ({ format, headBytes }) => [
    ...['-c:a', 'flac', '-sample_fmt', format === 'int16' ? 's16' : 's32'],
    ...(format === 'int24' ? ['-bits_per_raw_sample', '24'] : []),
    ...['-metadata_header_padding', String(headBytes), '-f', 'flac'],
  ],
};

export const files: CodingFiles = {
  open: (file, picture, ports) =>
    encoded(file, facts.label, encoder, ports, { headBytes: flacTextBytes(text(file, picture)) }),
  async tag(file, picture, ports) {
    const { at, space } = await readFlacBlocks(await ports.openFile(file.path));
    await ports.patch(file.path, at, flacMetadata(text(file, picture), space));
  },
  openBack: decodedBack,
  carried: (file, _, report) => carriedIn('vorbis', file, report),
  marks: async (_, source) => (await readFlacBlocks(source)).marks.map(({ at }) => at),
  encoder,
};
