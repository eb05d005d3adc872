import type { ByteSource } from './bytes.js';
import { AudioRefused } from './refusal.js';
import { readWavInfo, type WavInfo } from './wav-read.js';

/** Endings that a WAV file goes by. */
export const MASTER_EXTENSIONS = ['.wav', '.wave', '.bwf', '.rf64'] as const;

/** @throws AudioRefused when the name does not end like that of a file that is taken in */
export function demandMasterName(name: string): void {
  const ending = /\.[^./\\]*$/.exec(name)?.[0]?.toLowerCase() ?? '';
  if (MASTER_EXTENSIONS.some((known) => known === ending)) return;
  throw new AudioRefused(
    'wrong-extension',
    ending
      ? `“${ending}” files are not taken in yet; WAV files are.`
      : 'The file name has no ending; WAV files end in .wav.',
  );
}

/** Judges whether a file can be a master: a WAV file of two channels, complete. @throws AudioRefused */
export async function examineMaster(bytes: ByteSource): Promise<WavInfo> {
  const info = await readWavInfo(bytes);
  if (info.channels === 1) throw new AudioRefused('mono', 'The file is mono; a master has two channels.');
  return info;
}
