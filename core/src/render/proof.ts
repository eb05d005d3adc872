import { linearToDb } from '../dsp/gain.js';
import { Meters } from '../measure/measure.js';
import type { Block, PcmSource, WordFormat } from '../pcm/block.js';
import type { ByteSource } from '../pcm/bytes.js';
import { openWav } from '../pcm/wav-read.js';
import { decodeWords, encodeWords } from '../pcm/words.js';
import { formatMsf } from '../time/frames.js';
import { readCueSheet, type CueSheet } from '../disc/cue-sheet.js';
import type { TagSet } from '../tags/tag-set.js';
import type { Plan, PlannedAudio } from './plan.js';
import type { AudioStream, Progress, RenderPorts } from './ports.js';
import type { WrittenAudio } from './render.js';

/** One thing a rendered file was tested for after it was read back. */
export interface ProofTest {
  readonly id: 'length' | 'rate' | 'samplePeak' | 'audio' | 'tags' | 'marks' | 'text' | 'codes';
  readonly passed: boolean;
  readonly found: string | number | null;
  readonly wanted: string | number | null;
}

export interface ProofFile {
  readonly path: string;
  readonly bytes: number;
  readonly sha256: string;
  /** Samples of one channel; null for a file without audio. */
  readonly frames: number | null;
  readonly rate: number | null;
  readonly samplePeakDbfs: number | null;
  readonly truePeakDbtp: number | null;
  readonly integratedLufs: number | null;
  readonly tests: readonly ProofTest[];
}

/** `proof.json` of album-file.md. Holds no clock: the same revision gives the same proof. */
export interface Proof {
  readonly deliverable: string;
  readonly revision: number;
  readonly proved: boolean;
  readonly files: readonly ProofFile[];
}

/** Reads every file of a finished render back and tests it. `progress` gets the seconds of audio read so far. */
export async function proveRender(
  plan: Plan,
  written: readonly WrittenAudio[],
  revision: number,
  ports: RenderPorts,
  progress: Progress,
): Promise<Proof> {
  const files: ProofFile[] = [];
  let doneSeconds = 0;
  for (const audio of written) {
    files.push(await proveAudio(audio, ports, (seconds) => progress(doneSeconds + seconds)));
    doneSeconds += audio.planned.length / audio.planned.rate;
  }
  if (plan.sheet) files.push(await proveSheet(plan.sheet.path, plan.sheet.cue, ports));
  const proved = files.every(({ tests }) => tests.every(({ passed }) => passed));
  return { deliverable: plan.deliverable.name, revision, proved, files };
}

const equal = (
  id: ProofTest['id'],
  found: string | number | null,
  wanted: string | number | null,
): ProofTest => ({
  id,
  passed: found === wanted,
  found,
  wanted,
});

/** Decibels to a thousandth: as fine as anyone reads them, and free of the last bits of a logarithm. */
const roundDb = (linear: number): number | null => (linear > 0 ? roundTo3(linearToDb(linear)) : null);
const roundTo3 = (value: number): number => Math.round(value * 1000) / 1000;
const orNull = (value: number | null): number | null => (value === null ? null : roundTo3(value));

async function proveAudio(audio: WrittenAudio, ports: RenderPorts, progress: Progress): Promise<ProofFile> {
  const { planned } = audio;
  const source = await ports.openFile(planned.path);
  const stream = await openBack(planned, source, ports);
  const meters = new Meters(stream.rate, stream.format);
  const hash = ports.sha256();
  let frames = 0;
  for await (const block of stream.blocks()) {
    meters.push(block);
    hash.update(encodeWords(block, planned.format));
    frames += block.left.length;
    await progress(frames / stream.rate);
  }
  const measured = meters.result();
  return {
    path: planned.path,
    bytes: source.size,
    sha256: await sha256Of(source, ports),
    frames,
    rate: stream.rate,
    samplePeakDbfs: orNull(measured.samplePeakDbfs),
    truePeakDbtp: orNull(measured.truePeakDbtp),
    integratedLufs: orNull(measured.integratedLufs),
    tests: [
      equal('length', frames, planned.length),
      equal('rate', stream.rate, planned.rate),
      equal('samplePeak', orNull(measured.samplePeakDbfs), roundDb(audio.samplePeak)),
      equal('audio', hash.digest(), audio.wordsSha256),
      ...(planned.container === 'flac' ? [tagTest(stream.tags, planned.tags)] : []),
    ],
  };
}

/** Tags differ when one that was wanted is missing or reads otherwise; the first such pair is shown. */
function tagTest(found: Readonly<Record<string, string>>, wanted: TagSet): ProofTest {
  const wrong = Object.entries(wanted).find(([name, value]) => tagValue(found, name) !== value);
  if (!wrong) return equal('tags', Object.keys(wanted).length, Object.keys(wanted).length);
  return {
    id: 'tags',
    passed: false,
    found: `${wrong[0]}=${tagValue(found, wrong[0]) ?? ''}`,
    wanted: `${wrong[0]}=${wrong[1]}`,
  };
}

/** Readers translate three Vorbis comments to names of their own. */
const OTHER_NAMES: Record<string, string> = {
  TRACKNUMBER: 'TRACK',
  DISCNUMBER: 'DISC',
  ALBUMARTIST: 'ALBUM_ARTIST',
};
const tagValue = (tags: Readonly<Record<string, string>>, name: string): string | undefined =>
  tags[name] ?? tags[OTHER_NAMES[name] ?? name];

async function openBack(planned: PlannedAudio, source: ByteSource, ports: RenderPorts): Promise<AudioStream> {
  switch (planned.container) {
    case 'flac':
      return ports.decode(planned.path);
    case 'wav': {
      const wav = await openWav(source);
      return { rate: wav.rate, format: wav.format, tags: {}, blocks: () => sourceBlocks(wav) };
    }
    case 'raw':
      return {
        rate: planned.rate,
        format: planned.format,
        tags: {},
        blocks: () => rawBlocks(source, planned.format),
      };
    default:
      return planned.container satisfies never;
  }
}

const READ_BLOCK = 65_536;

async function* sourceBlocks(wav: PcmSource): AsyncGenerator<Block> {
  for (let at = 0; at < wav.length; at += READ_BLOCK)
    yield await wav.read(at, Math.min(READ_BLOCK, wav.length - at));
}

async function* rawBlocks(source: ByteSource, format: WordFormat): AsyncGenerator<Block> {
  const step = READ_BLOCK * 4;
  for (let at = 0; at < source.size; at += step) yield decodeWords(await source.read(at, step), format, 2);
}

async function sha256Of(source: ByteSource, ports: RenderPorts): Promise<string> {
  const hash = ports.sha256();
  const step = 1 << 20;
  for (let at = 0; at < source.size; at += step) hash.update(await source.read(at, step));
  return hash.digest();
}

/** Reads the cue sheet back as a stranger would and lays its marks, words and codes against the album's. */
async function proveSheet(path: string, wanted: CueSheet, ports: RenderPorts): Promise<ProofFile> {
  const source = await ports.openFile(path);
  const found = readCueSheet(
    new TextDecoder('utf-8', { fatal: true }).decode(await source.read(0, source.size)),
  );
  const shown = (text: string): string => text.replace(/"/g, "'").replace(/[\r\n\t]+/g, ' ');
  const words = (sheet: CueSheet): string =>
    [sheet.title, sheet.performer, ...sheet.tracks.flatMap((track) => [track.title, track.performer])]
      .map(shown)
      .join(' | ');
  const marks = (sheet: CueSheet): string =>
    sheet.tracks
      .map(({ indexes }) => indexes.map(({ index, frames }) => `${index}@${formatMsf(frames)}`).join(' '))
      .join(' | ');
  const codes = (sheet: CueSheet): string =>
    [sheet.catalog, ...sheet.tracks.map(({ isrc }) => isrc)].join(' | ');
  return {
    path,
    bytes: source.size,
    sha256: await sha256Of(source, ports),
    frames: null,
    rate: null,
    samplePeakDbfs: null,
    truePeakDbtp: null,
    integratedLufs: null,
    tests: [
      equal('marks', marks(found), marks(wanted)),
      equal('text', words(found), words(wanted)),
      equal('codes', codes(found), codes(wanted)),
    ],
  };
}
