import type { AudioFile } from './audio-file.js';
import { chaptersOf } from './chapters.js';
import type { CodingFiles } from './coding.js';
import type { Encoder, EncoderOrder, FilePorts, FileSink } from './file-ports.js';

/** Starts FFmpeg for a file. */
export const encoded = (
  { path, rate, format, bitrate, quality, length }: AudioFile,
  label: string,
  encoder: Encoder,
  ports: FilePorts,
  more: Partial<Pick<EncoderOrder, 'headBytes' | 'chapters'>> = {},
): Promise<FileSink> =>
  ports.encode(path, {
    label,
    encoder,
    rate,
    format,
    bitrate,
    quality,
    length,
    headBytes: 0,
    chapters: [],
    ...more,
  });

/** Read back by FFmpeg's decoder. */
export const decodedBack: CodingFiles['openBack'] = async ({ path }, _, ports) => {
  const stream = await ports.decode(path);
  return { ...stream, report: () => Promise.resolve(stream) };
};

/** FFmpeg's option for a constant bit rate. */
export const kbit = ({ bitrate }: EncoderOrder): string[] =>
  bitrate === null ? [] : ['-b:a', `${bitrate}k`];

/** An M4A file whose edit list counts in samples, so that it is exactly as long as its input. */
export const m4a = (rate: number): string[] => ['-movie_timescale', String(rate), '-f', 'ipod'];

/** Chapters of an M4A file go in with the audio. */
export const encodedM4a = (
  file: AudioFile,
  label: string,
  encoder: Encoder,
  ports: FilePorts,
): Promise<FileSink> => encoded(file, label, encoder, ports, { chapters: chaptersOf(file) });
