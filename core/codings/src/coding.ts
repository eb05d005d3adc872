import { SAMPLE_RATES } from '@oiseau/audio/pcm';

/** File formats of deliverables, as the album file names them; the name is the file's extension. */
export const AUDIO_FORMATS = ['wav', 'aiff', 'flac', 'mp3', 'm4a', 'opus', 'ogg'] as const;
export type AudioFormat = (typeof AUDIO_FORMATS)[number];

/** How audio is kept in a file. An M4A file holds AAC or ALAC; every other format has one coding of its own name. */
export type Coding = Exclude<AudioFormat, 'm4a'> | 'aac' | 'alac';

/** What a coding can hold, and what it is given where nobody chose. */
export interface CodingFacts {
  /** Whether what is decoded differs from what went in. */
  readonly lossy: boolean;
  /** Words it can hold; a lossy coding has none of its own. */
  readonly bits: readonly (16 | 24 | 32 | 'float')[];
  readonly rates: readonly number[];
  /** kbit/s for stereo; null where the bit rate follows from the words. */
  readonly bitrate: { readonly least: number; readonly most: number; readonly usual: number } | null;
}

const pcm = { lossy: false, bits: [16, 24, 32, 'float'], rates: SAMPLE_RATES, bitrate: null } as const;
const packed = { lossy: false, bits: [16, 24], rates: SAMPLE_RATES, bitrate: null } as const;

export const CODING_NAMES = [
  'wav',
  'aiff',
  'flac',
  'mp3',
  'aac',
  'alac',
  'opus',
  'ogg',
] as const satisfies readonly Coding[];

export const CODINGS: Readonly<Record<Coding, CodingFacts>> = {
  wav: pcm,
  aiff: pcm,
  flac: packed,
  alac: packed,
  mp3: {
    lossy: true,
    bits: [],
    rates: [44_100, 48_000],
    bitrate: { least: 32, most: 320, usual: 320 },
  },
  aac: {
    lossy: true,
    bits: [],
    rates: [44_100, 48_000, 88_200, 96_000],
    bitrate: { least: 64, most: 512, usual: 256 },
  },
  // Opus codes at 48 kHz whatever it is given [RFC 6716].
  opus: { lossy: true, bits: [], rates: [48_000], bitrate: { least: 16, most: 510, usual: 160 } },
  ogg: { lossy: true, bits: [], rates: [44_100, 48_000], bitrate: { least: 64, most: 500, usual: 256 } },
};

/** Constant bit rates that MPEG-1 layer III knows [ISO 11172-3], in kbit/s. */
export const MP3_BITRATES = [32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320];

/** The nearest rate that a coding holds, of the same family (44.1 or 48 kHz) where it can be. */
export function rateFor(coding: Coding, wanted: number): number {
  const { rates } = CODINGS[coding];
  if (rates.includes(wanted)) return wanted;
  const family = rates.filter((rate) => wanted % rate === 0);
  return Math.max(...(family.length > 0 ? family : rates));
}
