import { lastTempo, type FoundTempo } from '@oiseau/audio/measure';
import { pcmFileBytes, PcmFileSource, type PcmInfo } from '@oiseau/audio/pcm';
import { HttpByteSource } from '../../player/http-byte-source.js';

/** A stretch of a master, in samples, whose last beat is asked for, and how many beats its bars have. */
export interface TempoQuestion {
  readonly url: string;
  readonly info: PcmInfo;
  readonly first: number;
  readonly before: number;
  readonly bar: number;
}

export type TempoAnswer = { readonly tempo: FoundTempo | null } | { readonly failure: string };

self.onmessage = async ({ data }: MessageEvent<TempoQuestion>): Promise<void> => {
  const { url, info, first, before, bar } = data;
  let answer: TempoAnswer;
  try {
    const source = new PcmFileSource(info, new HttpByteSource(url, pcmFileBytes(info)));
    answer = { tempo: await lastTempo(source, first, before, bar) };
  } catch (error) {
    answer = { failure: error instanceof Error ? error.message : String(error) };
  }
  self.postMessage(answer);
};
