import { readFile, stat } from 'node:fs/promises';
import { dirname, extname, join } from 'node:path';
import {
  AudioRefused,
  CueSheetError,
  DdpError,
  examineMaster,
  FIRST_PAUSE_FRAMES,
  isInteger,
  Meters,
  PcmFileSource,
  parseEan,
  parseIsrc,
  readCueSheet,
  readDdp,
  readThrough,
  WORD_BYTES,
  wordBits,
  type CueSheet,
  type DdpFound,
  type Measurement,
  type WordFormat,
} from '@oiseau/core';
import { CodecError, decodeFile, FileByteSource, systemCode, withDdpFolder } from '@oiseau/host';
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
    if ((await stat(path)).isDirectory()) return await inspectDdp(path);
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

/** Measures the bare words of an image: 16 bit, stereo, 44.1 kHz. */
async function inspectWords(path: string): Promise<Pick<Inspection, 'audio' | 'measure'>> {
  const bytes = await FileByteSource.open(path);
  try {
    const frames = Math.floor(bytes.size / WORD_BYTES.int16 / 2);
    const words = { format: 'int16', order: 'little', validBits: 16, dataOffset: 0 } as const;
    const source = new PcmFileSource(
      { container: 'RIFF', rate: 44_100, channels: 2, length: frames, ...words },
      bytes,
    );
    const meters = new Meters(source.rate, source.format);
    await readThrough(source, (block) => meters.push(block));
    const audio = { rate: 44_100, channels: 2, bits: 16, frames, seconds: frames / 44_100 };
    return { audio, measure: measureOf(meters) };
  } finally {
    await bytes.close();
  }
}

/** A disc image folder as a plant gets it. */
async function inspectDdp(path: string): Promise<Inspection> {
  let found: DdpFound;
  try {
    found = await withDdpFolder(path, readDdp);
  } catch (error) {
    if (error instanceof DdpError)
      throw new UsageError(`${path}: no disc image folder; ${error.message}`, { cause: error });
    throw error;
  }
  const { upc, marks, leadOut, image, cdText, problems } = found;
  const words =
    image === null
      ? null
      : await inspectWords(join(path, image)).catch((error: unknown) => {
          if (systemCode(error) === 'ENOENT') return null;
          throw error;
        });
  return {
    file: path,
    kind: 'ddp',
    audio: words?.audio ?? null,
    measure: words?.measure ?? null,
    tags: {},
    disc: {
      upc,
      marks: marks.map(({ track, index, frames, isrc }) => ({ track, index, frames, isrc })),
      leadOut,
      text: discText(cdText),
    },
    problems: [...problems],
  };
}

/** The words of the first language of CD-Text, as those of a cue sheet are shown. */
function discText([block]: DdpFound['cdText']): object {
  if (!block) return {};
  const { texts, firstTrack, lastTrack } = block;
  const of = (place: number): object =>
    Object.fromEntries(Object.entries(texts).map(([field, all]) => [field, all[place] ?? '']));
  return {
    ...of(0),
    tracks: Array.from({ length: lastTrack - firstTrack + 1 }, (_, i) => of(i + 1)),
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
  const image = await inspectImage(join(dirname(path), sheet.file), sheet.audio, problems);
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
    disc: {
      upc: sheet.catalog,
      marks,
      // The image begins two seconds into the disc.
      leadOut: image?.audio ? FIRST_PAUSE_FRAMES + Math.ceil(image.audio.seconds * 75) : null,
      text,
    },
    problems: [...problems, ...(image?.problems ?? [])],
  };
}

async function inspectImage(
  path: string,
  audio: CueSheet['audio'],
  problems: string[],
): Promise<(Pick<Inspection, 'audio' | 'measure'> & Partial<Inspection>) | undefined> {
  try {
    return await (audio === 'BINARY' ? inspectWords(path) : inspectAudio(path));
  } catch (error) {
    problems.push(
      systemCode(error) === 'ENOENT'
        ? `The image ${path} is missing.`
        : `The image ${path} could not be read.`,
    );
    return undefined;
  }
}
