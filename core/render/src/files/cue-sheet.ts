import { msg } from '@oiseau/messages';
import { encodeCueSheet, readCueSheet, type CueSheet } from '@oiseau/formats/disc';
import { formatMsf } from '@oiseau/audio/time';
import type { PlannedCueSheet } from '../planned.js';
import type { FileKind } from './file-kind.js';
import { equal } from './tests.js';

/** What stands in a cue sheet in place of what it can't hold. */
const shown = (text: string): string => text.replace(/"/g, "'").replace(/[\r\n\t]+/g, ' ');

const wordsOf = (sheet: CueSheet): string =>
  [sheet.title, sheet.performer, ...sheet.tracks.flatMap((track) => [track.title, track.performer])]
    .map(shown)
    .join(' | ');
const marksOf = (sheet: CueSheet): string =>
  sheet.tracks
    .map(({ indexes }) => indexes.map(({ index, frames }) => `${index}@${formatMsf(frames)}`).join(' '))
    .join(' | ');
const codesOf = (sheet: CueSheet): string =>
  [sheet.catalog, ...sheet.tracks.map(({ isrc }) => isrc)].join(' | ');

/** A cue sheet, read back as a stranger would, its marks, words and codes laid against the album's. */
export const cueSheetFile: FileKind<PlannedCueSheet> = {
  words: () => msg('cue sheet'),
  bytes: ({ cue }) => Promise.resolve(encodeCueSheet(cue)),
  prove: async ({ cue }, source) => {
    const bytes = await source.read(0, source.size);
    const found = readCueSheet(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
    return [
      equal('marks', marksOf(found), marksOf(cue)),
      equal('text', wordsOf(found), wordsOf(cue)),
      equal('codes', codesOf(found), codesOf(cue)),
    ];
  },
};
