import { estimateTempo, pcmFileBytes, PcmFileSource, type PcmInfo } from '@oiseau/core';
import { HttpByteSource } from '../../player/http-byte-source.js';

/** A stretch of a master, in samples, and how many beats its bars have. */
export interface TempoQuestion {
  readonly url: string;
  readonly info: PcmInfo;
  readonly from: number;
  readonly count: number;
  readonly bar: number;
}

export type TempoAnswer = { readonly tempo: ReturnType<typeof estimateTempo> } | { readonly failure: string };

self.onmessage = async ({ data }: MessageEvent<TempoQuestion>): Promise<void> => {
  const { url, info, from, count, bar } = data;
  let answer: TempoAnswer;
  try {
    const audio = await new PcmFileSource(info, new HttpByteSource(url, pcmFileBytes(info))).read(
      from,
      count,
    );
    answer = { tempo: estimateTempo(audio, info.rate, bar) };
  } catch (error) {
    answer = { failure: error instanceof Error ? error.message : String(error) };
  }
  self.postMessage(answer);
};
