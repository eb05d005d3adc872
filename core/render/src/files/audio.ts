import {
  chaptersOf,
  CODING_FILES,
  containerTags,
  isLossyCoding,
  tagContainer,
  type DecoderReport,
  type OpenedAudio,
} from '@oiseau/codings';
import { linearToDb, mostErrorLsb } from '@oiseau/audio/dsp';
import { measureHere, StretchedSignal } from '@oiseau/audio/measure';
import { decodeWords, isInteger, WORD_BYTES, wordBits, type ByteSource } from '@oiseau/audio/pcm';
import { compareEnvelopes, Envelope } from '../envelope.js';
import type { PlannedAudio } from '../planned.js';
import type { Progress, RenderPorts } from '../ports.js';
import type { ProofFile, ProofTest } from '../proof-file.js';
import type { WrittenAudio } from '../render-input.js';
import { equal } from './tests.js';

/** The true peak that a lossy file should keep to (docs/rules.md 6.2). */
const LOSSY_CEILING_DBTP = -1;
/** How alike what a lossy file decodes to must be to what went in, in its loudness over time. */
const LEAST_LIKENESS = 0.9;

/** Decibels to a thousandth: as fine as anyone reads them, and free of the last bits of a logarithm. */
const roundTo3 = (value: number): number => Math.round(value * 1000) / 1000;
const roundDb = (linear: number): number | null => (linear > 0 ? roundTo3(linearToDb(linear)) : null);
const orNull = (value: number | null): number | null => (value === null ? null : roundTo3(value));

/** Reads an audio file back as a stranger would, measures and tests it. */
export async function proveAudio(
  audio: WrittenAudio,
  hasCover: boolean,
  ports: RenderPorts,
  progress: Progress,
): Promise<ProofFile> {
  const { planned } = audio;
  const source = await ports.openFile(planned.path);
  const files = CODING_FILES[planned.coding];
  const stream = await files.openBack(planned, source, ports);
  const lossy = isLossyCoding(planned.coding);
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
  report: OpenedAudio['report'],
): Promise<ProofTest[]> {
  const tests: ProofTest[] = [];
  const { coding, id3, tags: wanted } = planned;
  if (coding === 'raw') return tests;
  const files = CODING_FILES[coding];
  const tags = containerTags(wanted, tagContainer(coding, id3));
  if (tags.length > 0) {
    const reported = await report();
    const carried = await files.carried(planned, source, reported);
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
    if (hasCover) tests.push(equal('cover', reported.hasPicture ? 1 : 0, 1));
  }
  if (planned.marks.length === 0) return tests;
  const marks = await files.marks?.(planned, source);
  tests.push(
    marks
      ? equal('marks', marks.join(' '), planned.marks.map(({ at }) => at).join(' '))
      : chapterTest(planned, (await report()).chapters),
  );
  return tests;
}

/** Chapters as a reader of its own finds them, to the millisecond in which their containers count. */
function chapterTest(planned: PlannedAudio, found: DecoderReport['chapters']): ProofTest {
  const told = (chapters: readonly { readonly start: number; readonly title: string }[]): string =>
    chapters.map(({ start, title }) => `${start.toFixed(3)} ${title}`).join(' | ');
  return equal('marks', told(found), told(chaptersOf(planned)));
}
