import { msg, type Message } from '@oiseau/messages';
import type { PlannedFile } from '../planned.js';
import { cueSheetFile } from './cue-sheet.js';
import { cuttingSheetFile } from './cutting-sheet.js';
import { descriptionFile } from './description.js';
import { bagFile } from './bag.js';
import { coverFile } from './cover.js';
import type { FileKind } from './file-kind.js';
import { listeningPageFile } from './listening-page.js';
import { loudnessFile } from './loudness.js';
import { playlistFile } from './playlist.js';
import { releaseFile } from './release.js';
import { sheetFile } from './sheet.js';
import { sideSheetFile } from './side-sheet.js';
import { sumsFile } from './sums.js';

/** A planned file that holds no audio. */
export type PlannedText = Exclude<PlannedFile, { kind: 'audio' }>;

/** Every kind of file without audio. One that is added to the plan breaks the build here until it can be written and proved. */
const FILES: { readonly [K in PlannedText['kind']]: FileKind<Extract<PlannedText, { kind: K }>> } = {
  'cue-sheet': cueSheetFile,
  description: descriptionFile,
  'side-sheet': sideSheetFile,
  'cutting-sheet': cuttingSheetFile,
  sheet: sheetFile,
  loudness: loudnessFile,
  release: releaseFile,
  cover: coverFile,
  'listening-page': listeningPageFile,
  bag: bagFile,
  playlist: playlistFile,
  sums: sumsFile,
};

export const fileKindOf = (file: PlannedText): FileKind<PlannedText> =>
  FILES[file.kind] as FileKind<PlannedText>;

/** What a planned file is, in a few words. */
export const fileWords = (file: PlannedFile): Message =>
  file.kind === 'audio' ? msg('audio') : fileKindOf(file).words(file);
