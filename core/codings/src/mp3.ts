import type { CodingFacts, CodingFiles } from './coding.js';
import { decodedBack, encoded, kbit } from './encoded.js';
import { id3Container } from './container-tags.js';
import { carriedIn, id3Of } from './file-text.js';
import { MP3_FRAME, setMp3Length } from './mp3-info.js';
import type { Encoder } from './file-ports.js';

export const facts = {
  ...{ format: 'mp3', formatLabel: 'MP3', label: 'MP3', tags: 'id3', cue: 'MP3' },
  ...{ lossy: true, bits: [], rates: [44_100, 48_000] },
  bitrate: {
    ...{ least: 32, most: 320, usual: 320 },
    // Constant bit rates of MPEG-1 layer III [ISO 11172-3].
    only: [32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320],
  },
  qualities: [245, 225, 190, 175, 165, 130, 115, 100, 85, 65],
  ...{ loudness: 'replaygain', size: 'about' },
} as const satisfies CodingFacts;

/** The first frame is within these bytes, whatever the bit rate. */
const HEAD_BYTES = 2048;

const encoder: Encoder = {
  // The Xing frame carries delay and padding of the encoder, by which players join tracks without a gap.
  options: (order) => [
    ...['-c:a', 'libmp3lame', ...kbit(order)],
    ...(order.quality === null ? [] : ['-q:a', String(order.quality)]),
    ...['-write_xing', '1', '-id3v2_version', '0', '-f', 'mp3'],
  ],
  // A decoder is late by half a frame and more: without a frame after the last sample it could not cut the end off.
  tail: MP3_FRAME,
  head: { bytes: HEAD_BYTES, correct: setMp3Length },
};

export const files: CodingFiles = {
  open: (file, _, ports) => encoded(file, facts.label, encoder, ports),
  tag: (file, picture, ports) => ports.prepend(file.path, id3Of(file, picture)),
  openBack: decodedBack,
  carried: (file, _, report) => carriedIn(id3Container(file.id3), file, report),
  encoder,
};
