import { msg } from '@oiseau/messages';
import { Failure } from '@oiseau/audio/errors';
import { formatMsf, frames, parseMsf, type Frames } from '@oiseau/audio/time';

/** Types of a file that a cue sheet can name; WAVE stands for whatever a player decodes. */
export const CUE_AUDIO = ['WAVE', 'BINARY', 'AIFF', 'MP3'] as const;
export type CueAudio = (typeof CUE_AUDIO)[number];

/** A file that a cue sheet names. */
export interface CueFile {
  readonly file: string;
  readonly audio: CueAudio;
}

/** A cue sheet's contents; times count from the start of the file they stand under. Empty text means: not given. */
export interface CueSheet extends CueFile {
  readonly catalog: string;
  readonly title: string;
  readonly performer: string;
  readonly songwriter: string;
  /** Files after the first, in a sheet from elsewhere; ours name one. */
  readonly more?: readonly CueFile[];
  readonly tracks: readonly CueTrack[];
}

export interface CueTrack {
  readonly title: string;
  readonly performer: string;
  readonly songwriter: string;
  readonly isrc: string;
  readonly copyPermitted: boolean;
  readonly preEmphasis: boolean;
  readonly indexes: readonly CueIndex[];
}

/** An index of a track. */
export interface CueIndex {
  readonly index: number;
  readonly frames: Frames;
  /** Which of several files it counts in, from 0; left out in a sheet of one. */
  readonly file?: number;
}

const two = (value: number): string => String(value).padStart(2, '0');
/** The form has no escape: a double quote becomes a single one, a line break a blank (docs/rules.md 9.1). */
const quoted = (text: string): string => `"${text.replace(/"/g, "'").replace(/[\r\n\t]+/g, ' ')}"`;

/** The bytes of a cue sheet: UTF-8, CRLF. */
export const encodeCueSheet = (sheet: CueSheet): Uint8Array => new TextEncoder().encode(writeCueSheet(sheet));

/** Writes a cue sheet of one file as text with CRLF line ends; to be stored as UTF-8. */
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
/** A file for each track, and one before and one behind. */
const MOST_FILES = 101;
/** Characters of a word in it. */
const MOST_WORD = 4000;

type Mutable<T> = { -readonly [K in keyof T]: T[K] };

/**
 * Reads a cue sheet. Commands that carry nothing for a disc image (REM, CDTEXTFILE …) are passed over.
 * @throws CueSheetError naming the line that is wrong
 */
export function readCueSheet(text: string): CueSheet {
  if (text.length > MOST_CHARACTERS)
    throw new CueSheetError(
      msg('The cue sheet has {count} characters; the maximum is {most}.', {
        count: text.length,
        most: MOST_CHARACTERS,
      }),
    );
  const album: Mutable<CueSheet> = {
    catalog: '',
    title: '',
    performer: '',
    songwriter: '',
    file: '',
    audio: 'WAVE',
    tracks: [],
  };
  const files: CueFile[] = [];
  const tracks: (Mutable<CueTrack> & { indexes: CueIndex[] })[] = [];
  text
    .replace(/^\uFEFF/, '')
    .split(/\r\n|\n|\r/)
    .forEach((line, at) => {
      if (!COMMANDS.test(line)) return;
      const words = [...line.matchAll(/"([^"]*)"|(\S+)/g)].map((found) =>
        (found[1] ?? found[2] ?? '').slice(0, MOST_WORD),
      );
      const fail = (why: string): never => {
        throw new CueSheetError(msg('Line {at} of the cue sheet: {why}', { at: at + 1, why }));
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
          if (first === '') fail('FILE without a name.');
          files.push({
            file: first,
            audio:
              CUE_AUDIO.find((type) => type === second) ??
              fail(`FILE of type ${second || 'nothing'}; ${CUE_AUDIO.join(', ')} are read.`),
          });
          if (files.length > MOST_FILES) fail(`more than ${MOST_FILES} FILE lines.`);
          break;
        case 'TRACK':
          if (Number(first) !== tracks.length + 1)
            fail(`TRACK ${first} instead of ${two(tracks.length + 1)}.`);
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
          track.indexes.push({
            ...{ index: Number(first), frames: frames(time) },
            ...(files.length > 1 && { file: files.length - 1 }),
          });
          break;
        }
        default:
          break;
      }
    });
  const [only, ...more] = files;
  if (!only) throw new CueSheetError(msg('The cue sheet names no FILE.'));
  if (tracks.length === 0) throw new CueSheetError(msg('The cue sheet has no TRACK.'));
  return { ...album, ...only, ...(more.length > 0 && { more }), tracks };
}
