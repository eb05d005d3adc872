import { isInteger } from '@oiseau/audio/pcm';
import type { MasterRecord } from '@oiseau/api';
import { t } from '../ui/messages.js';

const CODECS: Readonly<Record<string, string>> = {
  flac: 'FLAC',
  alac: 'ALAC',
  mp3: 'MP3',
  aac: 'AAC',
  opus: 'Opus',
  vorbis: 'Vorbis',
};
const CONTAINERS: Record<MasterRecord['info']['container'], string> = {
  RIFF: 'WAV',
  RF64: 'RF64',
  BW64: 'BW64',
  AIFF: 'AIFF',
  AIFC: 'AIFC',
};

/** `WAV`, `FLAC`, `MP3 256 kbit/s` */
export function formWords({ info, coding }: Pick<MasterRecord, 'info' | 'coding'>): string {
  if (!coding) return CONTAINERS[info.container];
  const rate = coding.lossy && coding.bitrate ? ` ${Math.round(coding.bitrate / 1000)} kbit/s` : '';
  return `${CODECS[coding.codec] ?? coding.codec}${rate}`;
}

/** `24 bit`, `32 float`; a lossy coding has no words of its own. */
export function wordWords({ info, coding }: Pick<MasterRecord, 'info' | 'coding'>): string {
  if (coding?.lossy) return '–';
  return isInteger(info.format)
    ? t('{bits} bit', { bits: info.validBits })
    : t('{bits} float', { bits: info.validBits });
}
