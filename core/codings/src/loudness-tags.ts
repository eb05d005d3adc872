import { dbToLinear } from '@oiseau/audio/dsp';
import type { Measurement } from '@oiseau/audio/measure';
import { factsOf, type FileCoding } from './codings.js';
import type { TagSet } from './tag-names.js';

/** Reference loudness of ReplayGain 2.0, LUFS. */
const REPLAYGAIN_LUFS = -18;
/** Reference of R128 gains in Opus, LUFS; a step is 1/256 dB [RFC 7845 5.2.1]. */
const R128_LUFS = -23;
const R128_STEPS = 256;
const R128_MOST = 0x7fff;

type Figures = Pick<Measurement, 'integratedLufs' | 'truePeakDbtp'>;

/** Tags for the loudness of a file and of the whole album; silence has none. */
export function loudnessTags(coding: FileCoding, track: Figures, album: Figures): TagSet {
  if (coding === 'raw') return {};
  const form = factsOf(coding).loudness;
  const { of, reference } = LOUDNESS_FORMS[form];
  const tags = { ...of('TRACK', track), ...of('ALBUM', album) };
  return Object.keys(tags).length === 0 ? tags : { ...tags, ...reference };
}

function replayGain(of: 'TRACK' | 'ALBUM', { integratedLufs, truePeakDbtp }: Figures): TagSet {
  if (integratedLufs === null || truePeakDbtp === null) return {};
  return {
    [`REPLAYGAIN_${of}_GAIN`]: `${(REPLAYGAIN_LUFS - integratedLufs).toFixed(2)} dB`,
    [`REPLAYGAIN_${of}_PEAK`]: dbToLinear(truePeakDbtp).toFixed(6),
  };
}

function r128(of: 'TRACK' | 'ALBUM', { integratedLufs }: Figures): TagSet {
  if (integratedLufs === null) return {};
  const steps = Math.round(R128_STEPS * (R128_LUFS - integratedLufs));
  return { [`R128_${of}_GAIN`]: String(Math.max(-R128_MOST - 1, Math.min(R128_MOST, steps))) };
}

/** Each form of loudness tags: how track and album tags are made, and its constant reference tags. */
const LOUDNESS_FORMS = {
  replaygain: {
    of: replayGain,
    reference: { REPLAYGAIN_REFERENCE_LOUDNESS: `${REPLAYGAIN_LUFS.toFixed(2)} LUFS` },
  },
  r128: { of: r128, reference: {} },
} as const;
