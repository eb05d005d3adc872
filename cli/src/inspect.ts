import { readFile, stat } from 'node:fs/promises';
import { dirname, extname, join } from 'node:path';
import {
  AudioRefused,
  CueSheetError,
  examineMaster,
  FIRST_PAUSE_FRAMES,
  isInteger,
  Meters,
  PcmFileSource,
  parseEan,
  parseIsrc,
  readCueSheet,
  readThrough,
  wordBits,
  type CueSheet,
  type Measurement,
  type WordFormat,
} from '@oiseau/core';
import { CodecError, decodeFile, FileByteSource, systemCode } from '@oiseau/host';
import { UsageError, type ExitStatus } from './exit.js';

interface AudioFacts {
  rate: number;
  channels: number;
  bits: number | 'float';
  frames: number;
  seconds: number;
}

/** The figures of album-file.md; of the two channels' DC offsets the one further from zero. */
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
  kind: 'audio' | 'cue';
  audio: AudioFacts | null;
  measure: Measure | null;
  tags: Readonly<Record<string, string>>;
  disc: {
    upc: string;
    marks: { track: number; index: number; frames: number; isrc: string }[];
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
    if ((await stat(path)).isDirectory())
      throw new UsageError(`${path}: a folder; disc image folders can't be inspected yet.`);
    return extname(path).toLowerCase() === '.cue' ? await inspectCue(path) : await inspectAudio(path);
  } catch (error) {
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
    const meters = new Meters(source.rate, source.format);
    await readThrough(source, (block) => meters.push(block));
    const audio = {
      rate: source.rate,
      channels: form.info.channels,
      bits: words(source.format),
      frames: source.length,
      seconds: source.length / source.rate,
    };
    return { ...empty, audio, measure: measureOf(meters) };
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
    for await (const block of stream.blocks()) {
      meters.push(block);
      frames += block.left.length;
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

async function inspectCue(path: string): Promise<Inspection> {
  let sheet: CueSheet;
  try {
    sheet = readCueSheet(await readFile(path, 'utf8'));
  } catch (error) {
    if (error instanceof CueSheetError) throw new UsageError(`${path}: ${error.message}`, { cause: error });
    throw error;
  }
  const problems: string[] = [];
  if (sheet.catalog !== '' && !parseEan(sheet.catalog))
    problems.push(`CATALOG ${sheet.catalog} is no valid UPC/EAN.`);
  const marks = sheet.tracks.flatMap(({ indexes, isrc }, i) => {
    if (isrc !== '' && !parseIsrc(isrc)) problems.push(`Track ${i + 1}: ${isrc} is no valid ISRC.`);
    // Absolute disc time: the image begins two seconds into the disc.
    return indexes.map(({ index, frames }) => ({
      track: i + 1,
      index,
      frames: frames + FIRST_PAUSE_FRAMES,
      isrc: index === 1 ? isrc : '',
    }));
  });
  const image =
    sheet.audio === 'WAVE' ? await inspectImage(join(dirname(path), sheet.file), problems) : undefined;
  const last = marks.at(-1);
  if (image?.audio && last && (last.frames - FIRST_PAUSE_FRAMES) / 75 >= image.audio.seconds) {
    problems.push(`The last mark stands at or past the end of ${sheet.file}.`);
  }
  const text = {
    title: sheet.title,
    performer: sheet.performer,
    songwriter: sheet.songwriter,
    tracks: sheet.tracks.map(({ title, performer, songwriter }) => ({ title, performer, songwriter })),
  };
  return {
    file: path,
    kind: 'cue',
    audio: image?.audio ?? null,
    measure: image?.measure ?? null,
    tags: {},
    disc: { upc: sheet.catalog, marks, text },
    problems: [...problems, ...(image?.problems ?? [])],
  };
}

async function inspectImage(path: string, problems: string[]): Promise<Inspection | undefined> {
  try {
    return await inspectAudio(path);
  } catch (error) {
    problems.push(
      systemCode(error) === 'ENOENT'
        ? `The image ${path} is missing.`
        : `The image ${path} could not be read.`,
    );
    return undefined;
  }
}
