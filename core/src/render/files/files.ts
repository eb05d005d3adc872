import type { PlannedFile } from '../planned.js';
import { cueSheetFile } from './cue-sheet.js';
import { cuttingSheetFile } from './cutting-sheet.js';
import { descriptionFile } from './description.js';
import type { FileKind } from './file-kind.js';
import { sideSheetFile } from './side-sheet.js';

/** A planned file that holds no audio. */
export type PlannedText = Exclude<PlannedFile, { kind: 'audio' }>;

/** Every kind of file without audio. One that is added to the plan breaks the build here until it can be written and proved. */
const FILES: { readonly [K in PlannedText['kind']]: FileKind<Extract<PlannedText, { kind: K }>> } = {
  'cue-sheet': cueSheetFile,
  description: descriptionFile,
  'side-sheet': sideSheetFile,
  'cutting-sheet': cuttingSheetFile,
};

export const fileKindOf = (file: PlannedText): FileKind<PlannedText> =>
  FILES[file.kind] as FileKind<PlannedText>;

/** What a planned file is, in a few words. */
export const fileWords = (file: PlannedFile): string =>
  file.kind === 'audio' ? 'audio' : fileKindOf(file).words(file);
