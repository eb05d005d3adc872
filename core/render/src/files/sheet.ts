import { msg } from '@oiseau/messages';
import type { PlannedSheet } from '../planned.js';
import type { FileKind } from './file-kind.js';
import { proveSheet, sheetBytes } from './sheet-proof.js';

/** A sheet that is known before anything is rendered: the label copy. */
export const sheetFile: FileKind<PlannedSheet> = {
  words: ({ form }) => (form === 'csv' ? msg('label copy, as a table') : msg('label copy, for print')),
  bytes: (file, { ports }) => sheetBytes(file.form, file, ports),
  prove: (file, source, { ports }) => proveSheet(file.form, file, source, ports),
};
