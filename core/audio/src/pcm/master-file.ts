import { msg } from '@oiseau/messages';
import { readAiffInfo } from './aiff-read.js';
import { ByteReader, type ByteSource } from './bytes.js';
import { demandFewComments } from './comment-count.js';
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
      ? msg('“{ending}” files aren’t supported. Use WAV, AIFF, FLAC, MP3, M4A, AAC, Opus or Ogg.', { ending })
      : msg('The file name has no extension, such as .wav or .flac.'),
  );
}

const endingOf = (name: string): string => /\.[^./\\]*$/.exec(name)?.[0]?.toLowerCase() ?? '';

/** What a file is: words that the core reads as they lie there, or a coding that must be decoded first. */
export type MasterForm =
  { readonly kind: 'pcm'; readonly info: PcmInfo } | { readonly kind: 'coded'; readonly form: CodedForm };

/** Forms of coded files that are taken in, as their first bytes tell; a decoder is told to look for no other. */
export type CodedForm = 'flac' | 'ogg' | 'mp4' | 'mp3' | 'aac';

/**
 * Judges by its first bytes whether a file can be a master. Of a coded one only its decoder can say more.
 * @param mono whether the person agreed that one channel is put on both sides
 * @throws AudioRefused
 */
export async function examineMaster(bytes: ByteSource, mono: boolean): Promise<MasterForm> {
  if (bytes.size === 0) throw new AudioRefused('empty', msg('The file is empty.'));
  const head = await bytes.read(0, 12);
  const form = await codedForm(bytes);
  if (form === 'flac') await demandFewComments(bytes);
  if (form) return { kind: 'coded', form };
  const read = { FORM: readAiffInfo, RIFF: readWavInfo, RF64: readWavInfo, BW64: readWavInfo }[
    fourCC(head, 0)
  ];
  if (!read) throw new AudioRefused('not-audio', msg('This isn’t an audio file of a supported format.'));
  const info = await read(bytes);
  demandStereo(info.channels, mono);
  return { kind: 'pcm', info };
}

/** @throws AudioRefused for one channel, unless the person agreed to have it on both sides */
export function demandStereo(channels: number, mono: boolean): void {
  if (channels === 1 && !mono)
    throw new AudioRefused('mono', msg('The file is mono. It can be used on both channels if you confirm.'));
}

function fourCC(bytes: Uint8Array, at: number): string {
  return bytes.length >= at + 4 ? new ByteReader(bytes.subarray(at, at + 4)).fourCC() : '';
}

/** ID3 tags that may stand before the audio, one after the other. */
const MOST_TAGS = 8;

/** FLAC, Ogg (Opus, Vorbis), MPEG-4, or MPEG audio, with or without ID3 tags before it; null for anything else. */
export async function codedForm(bytes: ByteSource): Promise<CodedForm | null> {
  let at = 0;
  for (let tags = 0; tags <= MOST_TAGS; tags++) {
    const head = await bytes.read(at, 10);
    const length = id3Length(head);
    if (length === null) return formOf(head, at > 0);
    at += length;
  }
  return null;
}

/** Bytes of the ID3v2 tag that begins here, its head included; null where none begins [id3.org, ID3v2.4 section 3.1]. */
function id3Length(head: Uint8Array): number | null {
  if (head.length < 10 || String.fromCharCode(...head.subarray(0, 3)) !== 'ID3') return null;
  const size = head.subarray(6, 10).reduce((sum, byte) => (sum << 7) | (byte & 0x7f), 0);
  const footer = ((head[5] ?? 0) & 0x10) !== 0 ? 10 : 0;
  return 10 + size + footer;
}

/** @param tagged a tag stands before it: some writers leave room behind it, which only a decoder of MP3 looks over */
function formOf(head: Uint8Array, tagged: boolean): CodedForm | null {
  const [first = 0, second = 0] = head;
  if (fourCC(head, 0) === 'fLaC') return 'flac';
  if (fourCC(head, 0) === 'OggS') return 'ogg';
  if (fourCC(head, 4) === 'ftyp') return 'mp4';
  // A frame of ADTS has layer 0, which MPEG audio does not have [ISO/IEC 13818-7 6.2].
  if (first === 0xff && (second & 0xf6) === 0xf0) return 'aac';
  if (first === 0xff && (second & 0xe0) === 0xe0) return 'mp3';
  return tagged ? 'mp3' : null;
}
