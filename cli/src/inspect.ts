import { stat } from 'node:fs/promises';
import { extname } from 'node:path';
import {
  AudioRefused,
  examineMaster,
  isInteger,
  Meters,
  PcmFileSource,
  readThrough,
  WORD_BYTES,
  wordBits,
  type Measurement,
  type PcmSource,
  type WordFormat,
} from '@oiseau/core';
import {
  CodecError,
  decodeFile,
  demandFile,
  FileByteSource,
  FileOutside,
  NoDiscImage,
  openImage,
  systemCode,
} from '@oiseau/host';
import { UsageError, type ExitStatus } from './exit.js';

interface AudioFacts {
  rate: number;
  channels: number;
  bits: number | 'float';
  frames: number;
  seconds: number;
}

/** The figures of docs/album-file.md 5; of the two channels' DC offsets the one further from zero. */
type Measure = Pick<
  Measurement,
  | 'integratedLufs'
  | 'loudnessRangeLu'
  | 'maxMomentaryLufs'
  | 'maxShortTermLufs'
  | 'truePeakDbtp'
  | 'samplePeakDbfs'
  | 'clippedRuns'
  | 'correlation'
> & { dcOffset: number };

interface Inspection {
  file: string;
  kind: 'audio' | 'ddp' | 'cue';
  audio: AudioFacts | null;
  measure: Measure | null;
  tags: Readonly<Record<string, string>>;
  disc: {
    upc: string;
    marks: { track: number; index: number; frames: number; isrc: string }[];
    /** In frames; null where the image does not tell. */
    leadOut: number | null;
    text: object;
  } | null;
  problems: string[];
}

/** `oiseau inspect FILE ...`: prints one object, or an array for several files. */
export async function inspect(paths: readonly string[], print: (text: string) => void): Promise<ExitStatus> {
  const found: Inspection[] = [];
  for (const path of paths) found.push(await inspectFile(path));
  print(JSON.stringify(found.length === 1 ? found[0] : found, null, 2));
  return found.some(({ problems }) => problems.length > 0) ? 1 : 0;
}

async function inspectFile(path: string): Promise<Inspection> {
  try {
    const folder = (await stat(path)).isDirectory();
    if (!folder) await demandFile(path, null);
    const disc = folder || extname(path).toLowerCase() === '.cue';
    return await (disc ? inspectDisc(path) : inspectAudio(path));
  } catch (error) {
    if (error instanceof FileOutside) throw new UsageError(`${path}: ${error.message}`, { cause: error });
    if (systemCode(error) === 'ENOENT') throw new UsageError(`${path}: no such file.`, { cause: error });
    throw error;
  }
}

const words = (format: WordFormat): number | 'float' => (isInteger(format) ? wordBits(format) : 'float');

async function inspectAudio(path: string): Promise<Inspection> {
  const empty: Inspection = {
    file: path,
    kind: 'audio',
    audio: null,
    measure: null,
    tags: {},
    disc: null,
    problems: [],
  };
  const bytes = await FileByteSource.open(path);
  try {
    const form = await examineMaster(bytes, true);
    if (form.kind === 'coded') return { ...empty, ...(await inspectCoded(path)) };
    const source = new PcmFileSource(form.info, bytes);
    return { ...empty, ...(await factsAndMeasure(source, form.info.channels)) };
  } catch (error) {
    if (!(error instanceof AudioRefused)) throw error;
    if (error.reason === 'not-audio') throw new UsageError(`${path}: ${error.message}`, { cause: error });
    return { ...empty, problems: [error.message] };
  } finally {
    await bytes.close();
  }
}

async function inspectCoded(path: string): Promise<Pick<Inspection, 'audio' | 'measure' | 'tags'>> {
  try {
    const stream = await decodeFile(path);
    const meters = new Meters(stream.rate, stream.format);
    let frames = 0;
    for await (const bytes of stream.words()) {
      meters.pushWords(bytes);
      frames += bytes.length / (2 * WORD_BYTES[stream.format]);
    }
    const audio = {
      rate: stream.rate,
      channels: stream.channels,
      bits: words(stream.format),
      frames,
      seconds: frames / stream.rate,
    };
    return { audio, measure: measureOf(meters), tags: stream.tags };
  } catch (error) {
    if (error instanceof CodecError) throw new UsageError(`${path}: ${error.message}`, { cause: error });
    throw error;
  }
}

/** A disc image folder, or a cue sheet with its image. */
async function inspectDisc(path: string): Promise<Inspection> {
  const { image, audio, close } = await openImage(path).catch((error: unknown) => {
    if (error instanceof NoDiscImage)
      throw new UsageError(`${path}: no disc image; ${error.message}`, { cause: error });
    throw error;
  });
  try {
    const { kind, upc, marks, leadOut, tracks, text, problems } = image;
    const isrc = (track: number): string => tracks[track - 1]?.isrc ?? '';
    return {
      file: path,
      kind,
      ...(audio ? await factsAndMeasure(audio, 2) : { audio: null, measure: null }),
      tags: {},
      disc: {
        upc,
        marks: marks.map(({ track, index, frames }) => ({
          ...{ track, index, frames },
          isrc: index === 1 ? isrc(track) : '',
        })),
        leadOut,
        text: { ...text, tracks: tracks.map((track) => track.text) },
      },
      problems: [...problems],
    };
  } finally {
    await close();
  }
}

/** Hears audio through once. */
async function factsAndMeasure(
  source: PcmSource,
  channels: number,
): Promise<Pick<Inspection, 'audio' | 'measure'>> {
  const meters = new Meters(source.rate, source.format);
  await readThrough(source, (block) => meters.push(block));
  const { rate, length, format } = source;
  return {
    audio: { rate, channels, bits: words(format), frames: length, seconds: length / rate },
    measure: measureOf(meters),
  };
}

function measureOf(meters: Meters): Measure {
  const found = meters.result();
  const { dcLeft, dcRight } = found;
  return {
    integratedLufs: found.integratedLufs,
    loudnessRangeLu: found.loudnessRangeLu,
    maxMomentaryLufs: found.maxMomentaryLufs,
    maxShortTermLufs: found.maxShortTermLufs,
    truePeakDbtp: found.truePeakDbtp,
    samplePeakDbfs: found.samplePeakDbfs,
    clippedRuns: found.clippedRuns,
    dcOffset: Math.abs(dcLeft) >= Math.abs(dcRight) ? dcLeft : dcRight,
    correlation: found.correlation,
  };
}
