import {
  CODINGS,
  containerTags,
  id3Container,
  reportedTag,
  tagContainer,
  readFlacBlocks,
  chaptersOf,
} from '@oiseau/codings';
import { mostErrorLsb, linearToDb } from '@oiseau/audio/dsp';
import { measureHere, StretchedSignal, wordsOf } from '@oiseau/audio/measure';
import {
  isInteger,
  WORD_BYTES,
  wordBits,
  type ByteSource,
  readEmbeddedWords,
  type EmbeddedWords,
  examineMaster,
  PcmFileSource,
  decodeWords,
} from '@oiseau/audio/pcm';
import { tagsOf } from '../containers.js';
import { compareEnvelopes, Envelope } from '../envelope.js';
import type { PlannedAudio } from '../planned.js';
import type { AudioStream, Progress, RenderPorts } from '../ports.js';
import type { ProofFile, ProofTest } from '../proof-file.js';
import { equal } from './tests.js';
import type { WrittenAudio } from '../render-input.js';

/** The true peak that a lossy file should keep to (docs/rules.md 6.2). */
const LOSSY_CEILING_DBTP = -1;
/** How alike what a lossy file decodes to must be to what went in, in its loudness over time. */
const LEAST_LIKENESS = 0.9;

/** Decibels to a thousandth: as fine as anyone reads them, and free of the last bits of a logarithm. */
const roundTo3 = (value: number): number => Math.round(value * 1000) / 1000;
const roundDb = (linear: number): number | null => (linear > 0 ? roundTo3(linearToDb(linear)) : null);
const orNull = (value: number | null): number | null => (value === null ? null : roundTo3(value));

const isLossy = ({ coding }: PlannedAudio): boolean => coding !== 'raw' && CODINGS[coding].lossy;

/** Reads an audio file back as a stranger would, measures and tests it. */
export async function proveAudio(
  audio: WrittenAudio,
  hasCover: boolean,
  ports: RenderPorts,
  progress: Progress,
): Promise<ProofFile> {
  const { planned } = audio;
  const source = await ports.openFile(planned.path);
  const stream = await openBack(planned, source, ports);
  const lossy = isLossy(planned);
  // Taken meanwhile.
  const sha256 = ports.digest(planned.path, 'sha256');
  sha256.catch(() => undefined);
  const meters = new StretchedSignal(stream.rate, stream.format, ports.measurer ?? measureHere);
  const checksum = ports.crc32();
  const envelope = new Envelope(stream.rate);
  let samples = 0;
  for await (const words of stream.words(() => meters.room)) {
    if (lossy) envelope.push(decodeWords(words, stream.format, 2));
    else checksum.update(words);
    samples += words.length / (2 * WORD_BYTES[stream.format]);
    // The last to see them: their memory is measured, and used again.
    await meters.push(words);
    await progress(samples / stream.rate);
  }
  const measured = await meters.result();
  const tests = [equal('length', samples, planned.length), equal('rate', stream.rate, planned.rate)];
  if (lossy) tests.push(placeTest(envelope.done(), audio.envelope));
  else
    tests.push(
      equal('samplePeak', orNull(measured.samplePeakDbfs), roundDb(audio.samplePeak)),
      equal('audio', checksum.digest(), audio.wordsCrc32),
      nullTest(audio),
    );
  tests.push(...(await textTests(planned, hasCover, source, stream.report)));
  const peak = measured.truePeakDbtp;
  return {
    path: planned.path,
    bytes: source.size,
    sha256: await sha256,
    frames: samples,
    rate: stream.rate,
    samplePeakDbfs: orNull(measured.samplePeakDbfs),
    truePeakDbtp: orNull(peak),
    integratedLufs: orNull(measured.integratedLufs),
    clippedRuns: measured.clippedRuns,
    cureDb: lossy && peak !== null && peak > LOSSY_CEILING_DBTP ? roundTo3(LOSSY_CEILING_DBTP - peak) : null,
    tests,
  };
}

/**
 * Null test: the file less the programme leaves no more than rounding and dither. The words that are read back are those that
 * were written (`audio`), and those were laid against the programme as they were written. Integers in LSB, float in dBFS.
 */
function nullTest({ planned: { format, dither }, residual, samplePeak, isNearest }: WrittenAudio): ProofTest {
  if (!isInteger(format)) {
    // Each word may be off by half a unit in its last place; what is told is the largest difference, and what the loudest word may have.
    const most = 2 ** (Math.max(0, Math.floor(Math.log2(samplePeak))) - 24);
    return { id: 'null', passed: isNearest, found: roundDb(residual), wanted: roundDb(most) };
  }
  const found = residual * 2 ** (wordBits(format) - 1);
  const most = mostErrorLsb(dither);
  return { id: 'null', passed: found <= most * (1 + 1e-9), found: roundTo3(found), wanted: roundTo3(most) };
}

/** A lossy file begins, ends and sounds where the programme does. Shift in CD frames. */
function placeTest(found: Float64Array, wanted: Float64Array): ProofTest {
  const { likeness, shift } = compareEnvelopes(found, wanted);
  return {
    id: 'place',
    passed: shift === 0 && likeness >= LEAST_LIKENESS,
    found: shift === 0 ? roundTo3(likeness) : `${shift} frames off`,
    wanted: LEAST_LIKENESS,
  };
}

async function textTests(
  planned: PlannedAudio,
  hasCover: boolean,
  source: ByteSource,
  report: Opened['report'],
): Promise<ProofTest[]> {
  const tests: ProofTest[] = [];
  if (planned.coding === 'raw') return tests;
  const tags = tagsOf(planned);
  const words = await wordsInside(planned, source);
  if (tags.length > 0) {
    const { tags: reported, hasPicture } = await report();
    const container = tagContainer(planned.coding, planned.id3);
    // FFmpeg leaves ID3 aside where a WAV file has LIST INFO as well, and knows nothing of axml: both are read here.
    const inChunks = planned.coding === 'wav' ? words : null;
    const carried = [
      ...tags.map(({ key, value }) => ({
        ...{ key, value },
        found: key === 'axml ISRC' ? inChunks?.besideId3.isrc : reportedTag(reported, key, container),
      })),
      ...(inChunks ? containerTags(planned.tags, id3Container(planned.id3)) : []).map(({ key, value }) => ({
        ...{ key, value },
        found: reportedTag(inChunks?.tags ?? {}, key, 'id3'),
      })),
    ];
    const wrong = carried.find(({ value, found }) => found !== value);
    tests.push(
      wrong
        ? {
            id: 'tags',
            passed: false,
            found: `${wrong.key}=${wrong.found ?? ''}`,
            wanted: `${wrong.key}=${wrong.value}`,
          }
        : equal('tags', tags.length, tags.length),
    );
    if (hasCover) tests.push(equal('cover', hasPicture ? 1 : 0, 1));
  }
  const marks = await marksOf(planned, source, words);
  if (marks) {
    const wanted = planned.marks.map(({ at }) => at).join(' ');
    tests.push(equal('marks', marks.join(' '), wanted));
  } else if (planned.marks.length > 0) tests.push(chapterTest(planned, (await report()).chapters));
  return tests;
}

/** Chapters as a reader of its own finds them, to the millisecond in which their containers count. */
function chapterTest(
  planned: PlannedAudio,
  found: Awaited<ReturnType<Opened['report']>>['chapters'],
): ProofTest {
  const told = (chapters: readonly { readonly start: number; readonly title: string }[]): string =>
    chapters.map(({ start, title }) => `${start.toFixed(3)} ${title}`).join(' | ');
  return equal('marks', told(found), told(chaptersOf(planned)));
}

/** What a file of plain words says of itself in its chunks; null for any other. */
async function wordsInside({ coding }: PlannedAudio, source: ByteSource): Promise<EmbeddedWords | null> {
  if (coding !== 'wav' && coding !== 'aiff') return null;
  const form = await examineMaster(source, true);
  return form.kind === 'pcm' ? readEmbeddedWords(source, form.info) : null;
}

/** Marks that a file of several tracks carries, in samples; null where its container has none. */
async function marksOf(
  { coding, marks }: PlannedAudio,
  source: ByteSource,
  words: EmbeddedWords | null,
): Promise<number[] | null> {
  if (marks.length === 0) return null;
  if (coding === 'flac') return (await readFlacBlocks(source)).marks.map(({ at }) => at);
  if (coding !== 'wav' && coding !== 'aiff') return null;
  return words?.text.cues.map(({ at }) => at) ?? [];
}

/** A file opened by a reader of its own. */
interface Opened extends Pick<AudioStream, 'rate' | 'format'> {
  /** All words in order. @param room memory that the next ones may lie in, at least one sample */
  words(room: () => Uint8Array): AsyncIterable<Uint8Array>;
  /** What FFmpeg tells of its tags. */
  report(): Promise<Pick<AudioStream, 'tags' | 'hasPicture' | 'chapters'>>;
}

async function openBack(planned: PlannedAudio, source: ByteSource, ports: RenderPorts): Promise<Opened> {
  switch (planned.coding) {
    case 'wav':
    case 'aiff': {
      const form = await examineMaster(source, true);
      if (form.kind !== 'pcm') throw new RangeError(`${planned.path} is no PCM file`);
      const pcm = new PcmFileSource(form.info, source);
      const { rate, format } = pcm;
      return {
        rate,
        format,
        words: (room) => wordsOf(pcm, room),
        report: () => ports.decode(planned.path),
      };
    }
    case 'raw': {
      const { rate, format } = planned;
      const none = { tags: {}, hasPicture: false, chapters: [] };
      return { rate, format, words: (room) => rawWords(source, room), report: () => Promise.resolve(none) };
    }
    case 'flac':
    case 'alac':
    case 'mp3':
    case 'aac':
    case 'opus':
    case 'ogg': {
      const stream = await ports.decode(planned.path);
      return { ...stream, report: () => Promise.resolve(stream) };
    }
    default:
      return planned.coding satisfies never;
  }
}

/** Bytes read at a time of raw words: those of a disc image, 16 bits, two channels. */
const RAW_BLOCK = 1 << 18;

async function* rawWords(source: ByteSource, room: () => Uint8Array): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < source.size;) {
    const into = room();
    const words = await source.read(at, Math.min(RAW_BLOCK, into.length), into);
    // The file was cut short meanwhile: its length tells.
    if (words.length === 0) return;
    yield words;
    at += words.length;
  }
}
