import { msg } from '@oiseau/messages';
import { Failure } from '@oiseau/audio/errors';
import { framesToTicks, ticks, TICKS_PER_SECOND, type Ticks } from '@oiseau/audio/time';
import { readCueSheet } from '../disc/cue-sheet.js';

/** A time and what begins there. */
export interface ListedMark {
  readonly at: Ticks;
  readonly name: string;
}

/** A list of times that can't be read; the message names the line. */
export class MarkListError extends Failure {
  override readonly name = 'MarkListError';
  readonly code = 'mark-list';
  readonly status = 422;
}

/** Marks out of a cue sheet (the start of each track) or out of a list of times and names. @throws CueSheetError; MarkListError, for a sheet of several files as well */
export function readMarks(text: string): ListedMark[] {
  if (!/^\s*(FILE|TRACK|INDEX)\s/m.test(text)) return readMarkList(text);
  const { more, tracks } = readCueSheet(text);
  if (more)
    throw new MarkListError(msg('The cue sheet names several files, so its times have no common start.'));
  return tracks.flatMap(({ title, indexes }) => {
    const start = indexes.find(({ index }) => index === 1);
    return start ? [{ at: framesToTicks(start.frames), name: title }] : [];
  });
}

/** `1:02`, `62:05.25`, `1:02:03`: minutes and seconds, or hours before them. */
const TIME = /(?:(\d+):)?(\d+):(\d{1,2}(?:[.,]\d+)?)/;

/**
 * Reads a text list of times and names, one mark a line: the time before or behind the name, either way round, with or without
 * numbering (`3. Ebb 12:30`, `12:30 Ebb`, `12:30.250 – Ebb`). Empty lines are passed over.
 * @throws MarkListError naming the line that has no time in it
 */
export function readMarkList(text: string): ListedMark[] {
  return text
    .replace(/^\uFEFF/, '')
    .split(/\r\n|\n|\r/)
    .flatMap((line, i): ListedMark[] => {
      if (line.trim() === '') return [];
      const found = TIME.exec(line);
      if (!found)
        throw new MarkListError(
          msg('Line {i}, “{text}”, has no time. Write a time and a title, such as “12:30 Ebb”.', {
            i: i + 1,
            text: line.trim(),
          }),
        );
      const [whole, hours = '0', minutes = '0', seconds = '0'] = found;
      const total = 3600 * Number(hours) + 60 * Number(minutes) + Number(seconds.replace(',', '.'));
      const before = line.slice(0, found.index);
      const after = line.slice(found.index + whole.length);
      return [{ at: ticks(Math.round(total * TICKS_PER_SECOND)), name: tidy(after) || tidy(before) }];
    });
}

/** A name without the numbering, dashes and brackets that stood around the time. */
function tidy(text: string): string {
  return text
    .replace(/^[\s\-–—:;,.)\]|]+/, '')
    .replace(/[\s\-–—:;,([|]+$/, '')
    .replace(/^\d{1,2}\s*[.)]\s*/, '')
    .trim();
}
