import {
  bitrateOf,
  codingOf,
  CODINGS,
  type Coding,
  type Deliverable,
  type SoundDeliverable,
} from '@oiseau/core';
import { formatRate } from '../ui/format.js';

const CODING_NAMES: Readonly<Record<Coding, string>> = {
  wav: 'WAV',
  aiff: 'AIFF',
  flac: 'FLAC',
  mp3: 'MP3',
  aac: 'AAC (M4A)',
  alac: 'ALAC (M4A)',
  opus: 'Opus',
  ogg: 'Vorbis (Ogg)',
};

/** What a deliverable is, in a few words. */
export function kindWords(deliverable: Deliverable): string {
  switch (deliverable.kind) {
    case 'ddp':
      return 'Disc image for a plant (DDP)';
    case 'cue':
      return 'Disc image with a cue sheet';
    case 'tracks':
      return `${CODING_NAMES[codingOf(deliverable)]} for each track`;
    case 'continuous': {
      const section = deliverable.from !== null || deliverable.to !== null;
      return `${CODING_NAMES[codingOf(deliverable)]}, ${section ? 'a section' : 'the whole album'}`;
    }
    default:
      return deliverable satisfies never;
  }
}

/** Its words and rate: “16 bit, 44.1 kHz”, “320 kbit/s, rate as the master”. */
export function formWords(deliverable: Deliverable): string {
  if (deliverable.kind === 'ddp' || deliverable.kind === 'cue') return '16 bit, 44.1 kHz';
  return `${wordWords(deliverable)}, ${rateWords(deliverable)}`;
}

function wordWords(deliverable: SoundDeliverable): string {
  const coding = codingOf(deliverable);
  if (!CODINGS[coding].lossy)
    return deliverable.bits === 'float' ? '32 bit float' : `${deliverable.bits} bit`;
  const bitrate = bitrateOf(deliverable);
  return bitrate === null ? `variable, quality ${deliverable.quality}` : `${bitrate} kbit/s`;
}

function rateWords(deliverable: SoundDeliverable): string {
  const { rates } = CODINGS[codingOf(deliverable)];
  const [only] = rates;
  if (rates.length === 1 && only !== undefined) return formatRate(only);
  if (deliverable.rate !== 'source') return formatRate(deliverable.rate);
  return deliverable.kind === 'tracks' ? 'rate as the master' : 'the masters’ highest rate';
}
