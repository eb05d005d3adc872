import { msg } from '@oiseau/messages';
import { encodeSideSheet, readSideSheet, sideSheetCells } from '@oiseau/formats/disc';
import type { PlannedSideSheet } from '../planned.js';
import type { FileKind } from './file-kind.js';
import { equal } from './tests.js';

const joined = (rows: readonly (readonly string[])[]): string =>
  rows.map((cells) => cells.join(' / ')).join(' | ');

/** The sheet of vinyl sides. */
export const sideSheetFile: FileKind<PlannedSideSheet> = {
  words: ({ rows }) =>
    msg('side sheet, {tracks, plural, one {# track} other {# tracks}}', { tracks: rows.length }),
  bytes: ({ rows }) => Promise.resolve(encodeSideSheet(rows)),
  prove: async ({ rows }, source) => {
    const text = new TextDecoder('utf-8', { fatal: true }).decode(await source.read(0, source.size));
    return [equal('text', joined(readSideSheet(text)), joined(rows.map(sideSheetCells)))];
  },
};
