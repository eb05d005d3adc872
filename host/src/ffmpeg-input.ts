import { msg } from '@oiseau/messages';
import { resolve } from 'node:path';
import { AudioRefused, codedForm, type CodedForm, type WordFormat } from '@oiseau/audio/pcm';
import { MOST_COVER_PIXELS } from './cover.js';
import { FileByteSource } from './file-source.js';

/** Raw sample formats as FFmpeg names them. */
export const RAW = {
  int16: 's16le',
  int24: 's24le',
  int32: 's32le',
  float32: 'f32le',
  float64: 'f64le',
} as const satisfies Record<WordFormat, string>;

/** Forms that FFmpeg is given to read: coded ones, and those of plain words, for their tags. */
export type InputForm = CodedForm | 'wav' | 'aiff';

/** What reads each form in FFmpeg. */
const DEMUXER: Readonly<Record<InputForm, string>> = {
  wav: 'wav',
  aiff: 'aiff',
  flac: 'flac',
  ogg: 'ogg',
  mp4: 'mov',
  mp3: 'mp3',
  aac: 'aac',
};

/** Paths go in as `file:` URLs, so that none is taken for an option or a protocol. */
export const fileArgument = (path: string): string => `file:${resolve(path)}`;

const PLAIN: ReadonlyMap<string, InputForm> = new Map([
  ['RIFF', 'wav'],
  ['RF64', 'wav'],
  ['BW64', 'wav'],
  ['FORM', 'aiff'],
]);

/** @throws AudioRefused where a file begins like none of these forms */
export async function formOfFile(path: string): Promise<InputForm> {
  const bytes = await FileByteSource.open(path);
  try {
    const form =
      (await codedForm(bytes)) ?? PLAIN.get(Buffer.from(await bytes.read(0, 4)).toString('latin1'));
    if (form) return form;
    throw new AudioRefused('not-audio', msg('The file has no audio that can be decoded.'));
  } finally {
    await bytes.close();
  }
}

/** Tells FFmpeg to read a file as one form and as nothing else: no playlist that names other files, and no address. */
export function ffmpegInput(path: string, form: InputForm): string[] {
  const only = ['-format_whitelist', DEMUXER[form], '-protocol_whitelist', 'file'];
  // A picture of more pixels is not decoded: FFmpeg looks into embedded ones before it reads the audio.
  return ['-f', DEMUXER[form], ...only, '-max_pixels', String(MOST_COVER_PIXELS), '-i', fileArgument(path)];
}

/** Stereo words that come down the pipe. */
export const pipedInput = (format: WordFormat, rate: number): string[] => {
  const only = ['-format_whitelist', RAW[format], '-protocol_whitelist', 'pipe'];
  return ['-f', RAW[format], ...only, '-ar', String(rate), '-ac', '2', '-i', 'pipe:0'];
};
