import { readAiffInfo } from './aiff-read.js';
import { ByteReader, type ByteSource } from './bytes.js';
import type { PcmInfo } from './pcm-file.js';
import { AudioRefused } from './refusal.js';
import { readWavInfo } from './wav-read.js';

/** Endings of the files that are taken in. */
export const MASTER_EXTENSIONS = [
  ...['.wav', '.wave', '.bwf', '.rf64', '.aif', '.aiff', '.aifc', '.flac'],
  ...['.mp3', '.m4a', '.mp4', '.aac', '.opus', '.ogg', '.oga'],
] as const;

/** Whether a file's ending is that of one that is taken in. */
export function isMasterName(name: string): boolean {
  const ending = endingOf(name);
  return MASTER_EXTENSIONS.some((known) => known === ending);
}

/** @throws AudioRefused when the name does not end like that of a file that is taken in */
export function demandMasterName(name: string): void {
  if (isMasterName(name)) return;
  const ending = endingOf(name);
  throw new AudioRefused(
    'wrong-extension',
    ending
      ? `“${ending}” files are not taken in; WAV, AIFF, FLAC, MP3, M4A, AAC, Opus and Ogg files are.`
      : 'The file name has no ending; a WAV file ends in .wav, a FLAC file in .flac.',
  );
}

const endingOf = (name: string): string => /\.[^./\\]*$/.exec(name)?.[0]?.toLowerCase() ?? '';

/** What a file is: words that the core reads as they lie there, or a coding that must be decoded first. */
export type MasterForm = { readonly kind: 'pcm'; readonly info: PcmInfo } | { readonly kind: 'coded' };

/**
 * Judges by its first bytes whether a file can be a master. Of a coded one only its decoder can say more.
 * @param mono whether the person agreed that one channel is put on both sides
 * @throws AudioRefused
 */
export async function examineMaster(bytes: ByteSource, mono: boolean): Promise<MasterForm> {
  if (bytes.size === 0) throw new AudioRefused('empty', 'The file is empty.');
  const head = await bytes.read(0, 12);
  if (isCoded(head)) return { kind: 'coded' };
  const read = { FORM: readAiffInfo, RIFF: readWavInfo, RF64: readWavInfo, BW64: readWavInfo }[
    fourCC(head, 0)
  ];
  if (!read)
    throw new AudioRefused(
      'not-audio',
      'This is no audio file: it begins like none of those that are taken in.',
    );
  const info = await read(bytes);
  demandStereo(info.channels, mono);
  return { kind: 'pcm', info };
}

/** @throws AudioRefused for one channel, unless the person agreed to have it on both sides */
export function demandStereo(channels: number, mono: boolean): void {
  if (channels === 1 && !mono)
    throw new AudioRefused('mono', 'The file is mono; it can be placed in both channels if you say so.');
}

function fourCC(bytes: Uint8Array, at: number): string {
  return bytes.length >= at + 4 ? new ByteReader(bytes.subarray(at, at + 4)).fourCC() : '';
}

/** FLAC, Ogg (Opus, Vorbis), MPEG-4, or MPEG audio with or without an ID3 tag before it. */
function isCoded(head: Uint8Array): boolean {
  const [first = 0, second = 0] = head;
  return (
    ['fLaC', 'OggS'].includes(fourCC(head, 0)) ||
    fourCC(head, 4) === 'ftyp' ||
    String.fromCharCode(...head.subarray(0, 3)) === 'ID3' ||
    (first === 0xff && (second & 0xe0) === 0xe0)
  );
}
