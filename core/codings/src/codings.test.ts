import { describe, expect, it } from 'vitest';
import {
  AUDIO_FORMATS,
  CODECS,
  CODING_FILES,
  CODING_NAMES,
  codingsOf,
  factsOf,
  isLossyCoding,
  rateFor,
  tagContainer,
} from './codings.js';

describe('the table of codings', () => {
  it('offers seven formats in a fixed order, one of them with two codings', () => {
    expect(AUDIO_FORMATS).toEqual(['wav', 'aiff', 'flac', 'mp3', 'm4a', 'opus', 'ogg']);
    expect(codingsOf('m4a')).toEqual(['aac', 'alac']);
    expect(CODECS).toEqual(['aac', 'alac']);
  });

  it.each(CODING_NAMES)('%s has facts that fit together', (coding) => {
    const { lossy, bits, rates, bitrate, qualities } = factsOf(coding);
    expect(rates.length).toBeGreaterThan(0);
    // A lossy coding has bit rates and no bit depths; any other one the opposite.
    expect([bits.length > 0, bitrate !== null]).toEqual([!lossy, lossy]);
    if (bitrate) {
      expect(bitrate.usual).toBeGreaterThanOrEqual(bitrate.least);
      expect(bitrate.usual).toBeLessThanOrEqual(bitrate.most);
      if (bitrate.only) expect(bitrate.only).toContain(bitrate.usual);
    }
    expect(qualities).toEqual([...qualities].sort((a, b) => b - a));
    expect(isLossyCoding(coding)).toBe(lossy);
  });

  it('is written by FFmpeg where it is no coding of plain words', () => {
    const own = Object.entries(CODING_FILES).filter(([, { encoder }]) => !encoder);
    expect(own.map(([name]) => name).sort()).toEqual(['aiff', 'raw', 'wav']);
  });

  it.each([
    ['mp3', 96_000, 48_000],
    ['mp3', 88_200, 44_100],
    ['mp3', 44_100, 44_100],
    ['opus', 44_100, 48_000],
    ['flac', 96_000, 96_000],
    // Neither family: the highest that it holds.
    ['mp3', 32_000, 48_000],
  ] as const)('gives %s made of %d Hz a rate of %d Hz', (coding, from, to) => {
    expect(rateFor(coding, from)).toBe(to);
  });

  it('writes ID3 in the requested version and other tags in their own container', () => {
    expect(tagContainer('mp3', 2.3)).toBe('id3');
    expect(tagContainer('aiff', 2.4)).toBe('id3v4');
    expect(tagContainer('wav', 2.4)).toBe('riff');
    expect(tagContainer('alac', 2.4)).toBe('mp4');
    expect(tagContainer('opus', 2.3)).toBe('vorbis');
  });
});
