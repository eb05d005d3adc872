import { AudioRefused, readWavInfo, type WavInfo } from '@oiseau/core';
import { FileByteSource } from '@oiseau/host';

/** Endings that a WAV file goes by. */
const EXTENSIONS = ['.wav', '.wave', '.bwf', '.rf64'];

/** @throws AudioRefused when the name does not end like that of a WAV file */
export function demandWavName(name: string): void {
  const ending = /\.[^.]*$/.exec(name)?.[0]?.toLowerCase() ?? '';
  if (!EXTENSIONS.includes(ending)) {
    throw new AudioRefused('wrong-extension', ending ? `“${ending}” files are not taken in yet; WAV files are.` : 'The file name has no ending; WAV files end in .wav.');
  }
}

/** Reads and judges the header of a file that has arrived. @throws AudioRefused */
export async function examine(path: string): Promise<WavInfo> {
  const bytes = await FileByteSource.open(path);
  try {
    const info = await readWavInfo(bytes);
    if (info.channels === 1) throw new AudioRefused('mono', 'The file is mono; a master has two channels.');
    return info;
  } finally {
    await bytes.close();
  }
}
