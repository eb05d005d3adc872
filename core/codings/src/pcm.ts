import {
  PcmFileSource,
  examineMaster,
  readEmbeddedWords,
  type ByteSource,
  type EmbeddedWords,
  SAMPLE_RATES,
} from '@oiseau/audio/pcm';
import { wordsOf } from '@oiseau/audio/measure';
import type { CodingFacts, CodingFiles } from './coding.js';

/** Facts that codings of plain words share. */
export const PCM = {
  ...{ lossy: false, bits: [16, 24, 32, 'float'], rates: SAMPLE_RATES, bitrate: null, qualities: [] },
  ...{ loudness: 'replaygain', size: 'about' },
} as const satisfies Partial<CodingFacts>;

/** Facts that lossless codings share. */
export const LOSSLESS = {
  ...{ lossy: false, bits: [16, 24], rates: SAMPLE_RATES, bitrate: null, qualities: [] },
  ...{ loudness: 'replaygain', size: 'at most' },
} as const satisfies Partial<CodingFacts>;

/** Read back by our own reader; its tags are also asked of FFmpeg. */
export const readBack: CodingFiles['openBack'] = async ({ path }, source, ports) => {
  const form = await examineMaster(source, true);
  if (form.kind !== 'pcm') throw new RangeError(`${path} isn’t a PCM file`);
  const pcm = new PcmFileSource(form.info, source);
  const { rate, format } = pcm;
  return { rate, format, words: (room) => wordsOf(pcm, room), report: () => ports.decode(path) };
};

/** Text and marks in the chunks of a file of plain words; null where it is none. */
export async function chunkText(source: ByteSource): Promise<EmbeddedWords | null> {
  const form = await examineMaster(source, true);
  return form.kind === 'pcm' ? readEmbeddedWords(source, form.info) : null;
}

/** Places of cue points and markers, in samples. */
export const chunkMarks = async (_: unknown, source: ByteSource): Promise<readonly number[]> =>
  (await chunkText(source))?.text.cues.map(({ at }) => at) ?? [];
