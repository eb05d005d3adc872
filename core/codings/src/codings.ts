import * as aac from './aac.js';
import * as aiff from './aiff.js';
import * as alac from './alac.js';
import type { CodingFacts, CodingFiles } from './coding.js';
import * as flac from './flac.js';
import * as mp3 from './mp3.js';
import * as ogg from './ogg.js';
import * as opus from './opus.js';
import * as raw from './raw.js';
import { id3Container, type TagContainer } from './container-tags.js';
import * as wav from './wav.js';

/**
 * Facts of every coding, in the order in which they are offered. A new coding is a file beside this one and a line in each of the two tables.
 * Facts and files are two exports, so that a bundle that asks for facts alone holds no code that reads or writes audio.
 */
export const CODINGS = {
  wav: wav.facts,
  aiff: aiff.facts,
  flac: flac.facts,
  mp3: mp3.facts,
  aac: aac.facts,
  alac: alac.facts,
  opus: opus.facts,
  ogg: ogg.facts,
} as const satisfies Readonly<Record<string, CodingFacts>>;

/** A coding of audio in a file. An M4A file holds AAC or ALAC; every other format has one coding. */
export type Coding = keyof typeof CODINGS;
/** A coding of any file we write, including `raw`: the plain samples of a disc image. */
export type FileCoding = Coding | 'raw';
/** Codings that FFmpeg writes. */
export type EncodedCoding = Exclude<Coding, 'wav' | 'aiff'>;
/** File formats of deliverables, as the album file names them; the name is the file's extension. */
export type AudioFormat = (typeof CODINGS)[Coding]['format'];

export const CODING_FILES: Readonly<Record<FileCoding, CodingFiles>> = {
  raw: raw.files,
  wav: wav.files,
  aiff: aiff.files,
  flac: flac.files,
  mp3: mp3.files,
  aac: aac.files,
  alac: alac.files,
  opus: opus.files,
  ogg: ogg.files,
};

export const CODING_NAMES = Object.keys(CODINGS) as readonly Coding[];
export const AUDIO_FORMATS: readonly AudioFormat[] = [
  ...new Set(Object.values(CODINGS).map(({ format }) => format)),
];

/** Facts of a coding, none for raw words. */
export const factsOf = (coding: Coding): CodingFacts => CODINGS[coding];

/** Whether the decoded audio of a file differs from what was written. */
export const isLossyCoding = (coding: FileCoding): boolean => coding !== 'raw' && CODINGS[coding].lossy;

/** The tag container of a coding. @param id3 the requested ID3 version */
export function tagContainer(coding: Coding, id3: 2.3 | 2.4): TagContainer {
  const { tags } = factsOf(coding);
  return tags === 'id3' ? id3Container(id3) : tags;
}

/** The codings of a format, the usual one first. */
export const codingsOf = (format: AudioFormat): readonly Coding[] =>
  CODING_NAMES.filter((coding) => CODINGS[coding].format === format);

/** Codings that share their format with another one: of them a deliverable says which. */
export const CODECS = CODING_NAMES.filter((coding) => codingsOf(CODINGS[coding].format).length > 1);

/** The nearest rate that a coding holds, of the same family (44.1 or 48 kHz) where it can be. */
export function rateFor(coding: Coding, wanted: number): number {
  const { rates } = factsOf(coding);
  if (rates.includes(wanted)) return wanted;
  const family = rates.filter((rate) => wanted % rate === 0);
  return Math.max(...(family.length > 0 ? family : rates));
}
