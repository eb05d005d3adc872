import { CD_TEXT_FIELDS, type CdTextField } from '@oiseau/album/model';
import { FIRST_PAUSE_FRAMES, formatMsf, frames, type Frames } from '@oiseau/audio/time';
import type { CueSheet } from './cue-sheet.js';
import type { DdpFound } from './ddp-read.js';
import { parseEan } from './ean.js';
import { parseIsrc } from './isrc.js';
import type { Mark } from './marks.js';

/** Text by field; empty fields are absent. */
export type ImageText = Readonly<Partial<Record<CdTextField, string>>>;

export interface ImageTrack {
  readonly text: ImageText;
  readonly isrc: string;
  readonly copyPermitted: boolean;
  readonly preEmphasis: boolean;
}

/** A disc as described by its image. All times in absolute frames. */
export interface DiscImage {
  readonly kind: 'ddp' | 'cue';
  readonly upc: string;
  readonly masterId: string;
  /** Without lead-in and lead-out; track 1 index 0 only where the description has it. */
  readonly marks: readonly Mark[];
  /** null when nothing tells. */
  readonly leadOut: Frames | null;
  /** The file of the audio, and the absolute frame of its first sample. */
  readonly audio: {
    readonly path: string;
    readonly from: Frames;
    /** Files that go on where it ends; only a cue sheet from elsewhere has some. */
    readonly more?: readonly string[] | undefined;
  } | null;
  readonly text: ImageText;
  readonly tracks: readonly ImageTrack[];
  /** What is wrong with it, in a sentence each. */
  readonly problems: readonly string[];
}

/** Sentences that a person reads through; the others are counted. */
const MOST_PROBLEMS = 100;
const listed = (problems: readonly string[]): readonly string[] =>
  problems.length <= MOST_PROBLEMS
    ? problems
    : [...problems.slice(0, MOST_PROBLEMS - 1), `And ${problems.length - MOST_PROBLEMS + 1} more.`];

export function imageOfDdp(found: DdpFound): DiscImage {
  const [block] = found.cdText;
  const textAt = (place: number): ImageText =>
    Object.fromEntries(
      CD_TEXT_FIELDS.flatMap((field) => {
        const text = block?.texts[field]?.[place];
        return text ? [[field, text]] : [];
      }),
    );
  const starts = found.marks.filter(({ index }) => index === 1);
  return {
    kind: 'ddp',
    upc: found.upc,
    masterId: found.masterId,
    marks: found.marks.map(({ track, index, frames: at }) => ({ track, index, frames: at })),
    leadOut: found.leadOut,
    audio: found.image === null ? null : { path: found.image, from: frames(0) },
    text: textAt(0),
    tracks: starts.map(({ isrc, copyPermitted, preEmphasis }, i) => ({
      text: textAt(i + 1),
      isrc,
      copyPermitted,
      preEmphasis,
    })),
    problems: listed(found.problems),
  };
}

/**
 * A cue sheet’s image begins two seconds into the disc.
 * @param sectors of its audio up to the end of each file, the last rounded up; null when that could not be read
 */
export function imageOfCue(sheet: CueSheet, sectors: readonly number[] | null): DiscImage {
  const problems: string[] = [];
  if (sheet.catalog !== '' && !parseEan(sheet.catalog))
    problems.push(`CATALOG ${sheet.catalog} isn’t a valid UPC/EAN.`);
  const marks = sheet.tracks.flatMap(({ indexes, isrc }, i) => {
    if (isrc !== '' && !parseIsrc(isrc)) problems.push(`Track ${i + 1}: ${isrc} isn’t a valid ISRC.`);
    return indexes.map(({ index, frames: at, file = 0 }) => ({
      track: i + 1,
      index,
      frames: frames(at + (sectors?.[file - 1] ?? 0) + FIRST_PAUSE_FRAMES),
    }));
  });
  const end = sectors?.at(-1);
  const leadOut = end === undefined ? null : frames(end + FIRST_PAUSE_FRAMES);
  const last = marks.at(-1);
  if (leadOut !== null && last && last.frames >= leadOut)
    problems.push(`The last mark is not before the end of ${sheet.more?.at(-1)?.file ?? sheet.file}.`);
  marks.forEach((mark, i) => {
    const before = marks[i - 1];
    if (before && mark.frames <= before.frames)
      problems.push(
        `Track ${mark.track} index ${mark.index} (${formatMsf(mark.frames)}) does not come after the previous mark.`,
      );
  });
  const words = ({ title, performer, songwriter }: Pick<CueSheet, 'title' | 'performer' | 'songwriter'>) =>
    Object.fromEntries(Object.entries({ title, performer, songwriter }).filter(([, text]) => text !== ''));
  return {
    kind: 'cue',
    upc: sheet.catalog,
    masterId: '',
    marks,
    leadOut,
    audio: {
      ...{ path: sheet.file, from: FIRST_PAUSE_FRAMES },
      ...(sheet.more && { more: sheet.more.map(({ file }) => file) }),
    },
    text: words(sheet),
    tracks: sheet.tracks.map(({ isrc, copyPermitted, preEmphasis, ...track }) => ({
      text: words(track),
      isrc,
      copyPermitted,
      preEmphasis,
    })),
    problems: listed(problems),
  };
}
