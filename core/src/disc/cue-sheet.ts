import { Failure } from '../errors/failure.js';
import { formatMsf, frames, parseMsf } from '../time/frames.js';
import type { Frames } from '../time/ticks.js';

/** Types of a file that a cue sheet can name; WAVE stands for whatever a player decodes. */
export const CUE_AUDIO = ['WAVE', 'BINARY', 'AIFF', 'MP3'] as const;
export type CueAudio = (typeof CUE_AUDIO)[number];

/** A cue sheet's contents; times count from the start of the file it names. Empty text means: not given. */
export interface CueSheet {
  readonly catalog: string;
  readonly title: string;
  readonly performer: string;
  readonly songwriter: string;
  readonly file: string;
  readonly audio: CueAudio;
  readonly tracks: readonly CueTrack[];
}

export interface CueTrack {
  readonly title: string;
  readonly performer: string;
  readonly songwriter: string;
  readonly isrc: string;
  readonly copyPermitted: boolean;
  readonly preEmphasis: boolean;
  /** Index number and time, in order. */
  readonly indexes: readonly { readonly index: number; readonly frames: Frames }[];
}

const two = (value: number): string => String(value).padStart(2, '0');
/** The form has no escape: a double quote becomes a single one, a line break a blank (docs/rules.md 9.1). */
const quoted = (text: string): string => `"${text.replace(/"/g, "'").replace(/[\r\n\t]+/g, ' ')}"`;

/** The bytes of a cue sheet: UTF-8, CRLF. */
export const encodeCueSheet = (sheet: CueSheet): Uint8Array => new TextEncoder().encode(writeCueSheet(sheet));

/** Writes a cue sheet as text with CRLF line ends; to be stored as UTF-8. */
export function writeCueSheet(sheet: CueSheet): string {
  const lines: string[] = [];
  const text = (indent: string, key: string, value: string): void => {
    if (value !== '') lines.push(`${indent}${key} ${quoted(value)}`);
  };
  if (sheet.catalog !== '') lines.push(`CATALOG ${sheet.catalog}`);
  text('', 'PERFORMER', sheet.performer);
  text('', 'TITLE', sheet.title);
  text('', 'SONGWRITER', sheet.songwriter);
  lines.push(`FILE ${quoted(sheet.file)} ${sheet.audio}`);
  sheet.tracks.forEach((track, i) => {
    lines.push(`  TRACK ${two(i + 1)} AUDIO`);
    const flags = [track.copyPermitted ? 'DCP' : '', track.preEmphasis ? 'PRE' : ''].filter(Boolean);
    if (flags.length > 0) lines.push(`    FLAGS ${flags.join(' ')}`);
    text('    ', 'TITLE', track.title);
    text('    ', 'PERFORMER', track.performer);
    text('    ', 'SONGWRITER', track.songwriter);
    if (track.isrc !== '') lines.push(`    ISRC ${track.isrc}`);
    for (const { index, frames: at } of track.indexes) lines.push(`    INDEX ${two(index)} ${formatMsf(at)}`);
  });
  return lines.map((line) => `${line}\r\n`).join('');
}

/** A cue sheet that can't be read; the message names the line. */
export class CueSheetError extends Failure {
  override readonly name = 'CueSheetError';
  readonly code = 'cue-sheet';
  readonly status = 422;
}

/** Lines that say something of a disc image. */
const COMMANDS = /^\s{0,40}(?:CATALOG|TITLE|PERFORMER|SONGWRITER|FILE|TRACK|FLAGS|ISRC|INDEX)\b/i;

/** Characters of a cue sheet: 99 tracks with all their words and index points have less. */
const MOST_CHARACTERS = 300_000;
/** Characters of a word in it. */
const MOST_WORD = 4000;

type Mutable<T> = { -readonly [K in keyof T]: T[K] };

/**
 * Reads a cue sheet of one audio file. Commands that carry nothing for a disc image (REM, CDTEXTFILE …) are passed over.
 * @throws CueSheetError naming the line that is wrong
 */
export function readCueSheet(text: string): CueSheet {
  if (text.length > MOST_CHARACTERS)
    throw new CueSheetError(`The cue sheet has ${text.length} characters; ${MOST_CHARACTERS} are the most.`);
  const album: Mutable<CueSheet> = {
    catalog: '',
    title: '',
    performer: '',
    songwriter: '',
    file: '',
    audio: 'WAVE',
    tracks: [],
  };
  const tracks: (Mutable<CueTrack> & { indexes: { index: number; frames: Frames }[] })[] = [];
  text
    .replace(/^\uFEFF/, '')
    .split(/\r\n|\n|\r/)
    .forEach((line, at) => {
      if (!COMMANDS.test(line)) return;
      const words = [...line.matchAll(/"([^"]*)"|(\S+)/g)].map((found) =>
        (found[1] ?? found[2] ?? '').slice(0, MOST_WORD),
      );
      const fail = (why: string): never => {
        throw new CueSheetError(`Line ${at + 1} of the cue sheet: ${why}`);
      };
      const [command = '', first = '', second = ''] = words;
      const track = tracks.at(-1);
      switch (command.toUpperCase()) {
        case 'CATALOG':
          album.catalog = first;
          break;
        case 'TITLE':
          (track ?? album).title = first;
          break;
        case 'PERFORMER':
          (track ?? album).performer = first;
          break;
        case 'SONGWRITER':
          (track ?? album).songwriter = first;
          break;
        case 'FILE':
          if (album.file !== '') fail('a second FILE; an image has one.');
          album.file = first;
          album.audio =
            CUE_AUDIO.find((type) => type === second) ??
            fail(`FILE of type ${second || 'nothing'}; ${CUE_AUDIO.join(', ')} are read.`);
          break;
        case 'TRACK':
          if (Number(first) !== tracks.length + 1)
            fail(`TRACK ${first} where ${two(tracks.length + 1)} is due.`);
          tracks.push({
            title: '',
            performer: '',
            songwriter: '',
            isrc: '',
            copyPermitted: false,
            preEmphasis: false,
            indexes: [],
          });
          break;
        case 'FLAGS':
          if (!track) return fail('FLAGS before the first TRACK.');
          track.copyPermitted = words.includes('DCP');
          track.preEmphasis = words.includes('PRE');
          break;
        case 'ISRC':
          if (!track) return fail('ISRC before the first TRACK.');
          track.isrc = first;
          break;
        case 'INDEX': {
          if (!track) return fail('INDEX before the first TRACK.');
          const time = parseMsf(second);
          if (!/^\d\d?$/.test(first) || time === undefined)
            return fail(`“${line.trim()}” is not INDEX nn MM:SS:FF.`);
          track.indexes.push({ index: Number(first), frames: frames(time) });
          break;
        }
        default:
          break;
      }
    });
  if (album.file === '') throw new CueSheetError('The cue sheet names no FILE.');
  if (tracks.length === 0) throw new CueSheetError('The cue sheet has no TRACK.');
  return { ...album, tracks };
}
