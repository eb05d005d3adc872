import { stat } from 'node:fs/promises';
import { extname } from 'node:path';
import {
  AudioRefused,
  examineMaster,
  isInteger,
  decodeWords,
  PcmFileSource,
  readEmbeddedWords,
  WORD_BYTES,
  wordBits,
  type PcmSource,
  type WordFormat,
} from '@oiseau/audio/pcm';
import { bandwidthOf, FigureMeters, readThrough, type MasterMeasurement } from '@oiseau/audio/measure';
import { masterDoubts, type DoubtSubject, type MasterDoubt } from '@oiseau/checks';
import {
  CodecError,
  codingOf,
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
  MasterMeasurement,
  | 'integratedLufs'
  | 'loudnessRangeLu'
  | 'maxMomentaryLufs'
  | 'maxShortTermLufs'
  | 'truePeakDbtp'
  | 'samplePeakDbfs'
  | 'clippedRuns'
  | 'correlation'
> & { dcOffset: number; bandwidthHz: number | null };

interface Inspection {
  file: string;
  kind: 'audio' | 'ddp' | 'cue';
  audio: AudioFacts | null;
  measure: Measure | null;
  tags: Readonly<Record<string, string>>;
  /** Of a file that has some. */
  chapters?: readonly { seconds: number; title: string }[];
  /** What is doubtful of it as a master. */
  doubts: readonly object[];
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
    doubts: [],
    disc: null,
    problems: [],
  };
  const bytes = await FileByteSource.open(path);
  try {
    const form = await examineMaster(bytes, true);
    if (form.kind === 'coded') return { ...empty, ...(await inspectCoded(path)) };
    const source = new PcmFileSource(form.info, bytes);
    const { chapters, tags } = await readEmbeddedWords(bytes, form.info);
    return {
      ...empty,
      ...(await factsAndMeasure(source, { info: form.info, coding: null })),
      tags,
      ...chaptersFound(chapters),
    };
  } catch (error) {
    if (!(error instanceof AudioRefused)) throw error;
    if (error.reason === 'not-audio') throw new UsageError(`${path}: ${error.message}`, { cause: error });
    return { ...empty, problems: [error.message] };
  } finally {
    await bytes.close();
  }
}

const chaptersFound = (
  chapters: readonly { readonly start: number; readonly title: string }[],
): Pick<Inspection, 'chapters'> =>
  chapters.length === 0 ? {} : { chapters: chapters.map(({ start, title }) => ({ seconds: start, title })) };

type Heard = Pick<Inspection, 'audio' | 'measure' | 'doubts'>;

async function inspectCoded(path: string): Promise<Heard & Pick<Inspection, 'tags' | 'chapters'>> {
  try {
    const stream = await decodeFile(path);
    const { rate, format, channels } = stream;
    const meters = new FigureMeters(rate, format);
    let frames = 0;
    for await (const bytes of stream.words()) {
      meters.push(decodeWords(bytes, format, 2));
      frames += bytes.length / (2 * WORD_BYTES[format]);
    }
    const info = { rate, format, channels, length: frames, validBits: wordBits(format) };
    return {
      ...heard(meters, { info, coding: codingOf(stream) }),
      tags: stream.tags,
      ...chaptersFound(stream.chapters),
    };
  } catch (error) {
    if (error instanceof CodecError) throw new UsageError(`${path}: ${error.message}`, { cause: error });
    throw error;
  }
}

/** A disc image folder, or a cue sheet with its image. */
async function inspectDisc(path: string): Promise<Inspection> {
  const { image, audio, close } = await openImage(path).catch((error: unknown) => {
    if (error instanceof NoDiscImage)
      throw new UsageError(`${path}: not a disc image; ${error.message}`, { cause: error });
    throw error;
  });
  try {
    const { kind, upc, marks, leadOut, tracks, text, problems } = image;
    const isrc = (track: number): string => tracks[track - 1]?.isrc ?? '';
    return {
      file: path,
      kind,
      ...(audio ? await imageHeard(audio) : { audio: null, measure: null }),
      doubts: [],
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

type Told = Omit<DoubtSubject, 'measurement'>;

/** Hears audio through once. */
async function factsAndMeasure(source: PcmSource, told: Told): Promise<Heard> {
  const meters = new FigureMeters(source.rate, source.format);
  await readThrough(source, (block) => meters.push(block));
  return heard(meters, told);
}

/** What is doubtful of a master says nothing of an image. */
async function imageHeard(audio: PcmSource): Promise<Pick<Heard, 'audio' | 'measure'>> {
  const { rate, format, length } = audio;
  const info = { rate, format, length, channels: 2, validBits: wordBits(format) };
  const { audio: facts, measure } = await factsAndMeasure(audio, { info, coding: null });
  return { audio: facts, measure };
}

function heard(meters: FigureMeters, { info, coding }: Told): Heard {
  const measurement = meters.result();
  const { rate, channels, length, format } = info;
  return {
    audio: { rate, channels, bits: words(format), frames: length, seconds: length / rate },
    measure: measureOf(measurement),
    doubts: masterDoubts({ info, coding, measurement }).map(asFigures),
  };
}

/** A doubt as docs/album-file.md 5 has it: two degrees, and the rate that the audio came from by its name there. */
function asFigures(doubt: MasterDoubt): object {
  if (doubt.code !== 'lossy-past' && doubt.code !== 'upsampled') return doubt;
  const degree = doubt.degree === 'possible' ? 'possible' : 'likely';
  if (doubt.code === 'lossy-past') return { ...doubt, degree };
  const { fromHz, ...figures } = doubt;
  return { ...figures, fromRate: fromHz, degree };
}

function measureOf(found: MasterMeasurement): Measure {
  const { dcLeft, dcRight, upperEnd } = found;
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
    bandwidthHz: found.samplePeakDbfs === null || !upperEnd ? null : bandwidthOf(upperEnd),
  };
}
