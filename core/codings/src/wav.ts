import {
  bextLoudness,
  isInteger,
  wavTextChunks,
  WavWriter,
  wordBits,
  type BextLoudness,
} from '@oiseau/audio/pcm';
import type { AudioFile } from './audio-file.js';
import { plainText } from './cd-text-charset.js';
import type { CodingFacts, CodingFiles } from './coding.js';
import { containerTags, id3Container, reportedTag } from './container-tags.js';
import type { FilePorts } from './file-ports.js';
import { id3Of, namedMarks } from './file-text.js';
import type { EmbeddedPicture } from './flac-blocks.js';
import { chunkMarks, chunkText, PCM, readBack } from './pcm.js';

export const facts = {
  ...{ format: 'wav', formatLabel: 'WAV', label: 'WAV', tags: 'riff', cue: 'WAVE' },
  ...PCM,
} as const satisfies CodingFacts;

/** A WAV image is words and nothing else: no text, as a plant expects. */
const hasText = (file: AudioFile): boolean => Object.keys(file.tags).length > 0 || file.marks.length > 0;

function textChunks(
  file: AudioFile,
  picture: EmbeddedPicture | null,
): { bytes: Uint8Array; loudnessAt: number } | null {
  if (!hasText(file)) return null;
  const info = containerTags(file.tags, 'riff').filter(({ key }) => key.length === 4);
  const { TITLE: title = '', ARTIST: artist = '', ISRC: isrc = '' } = file.tags;
  return wavTextChunks(
    {
      info,
      isrc,
      id3: id3Of(file, picture),
      description: plainText([artist, title].filter(Boolean).join(': '), 'ascii'),
      date: file.made,
      dither: file.dither === 'none' ? '' : file.dither,
      marks: namedMarks(file),
    },
    { rate: file.rate, bits: wordBits(file.format) },
  );
}

/** Bytes of the head before the text chunks: RIFF, form, and what float words add. */
const formBytes = (file: AudioFile, wide: boolean): number =>
  12 + (wide ? 36 : 0) + 8 + (isInteger(file.format) ? 16 : 18 + 12);

/** Writes the loudness of a finished file into its `bext`. */
async function sealLoudness(file: AudioFile, loudness: BextLoudness, ports: FilePorts): Promise<void> {
  const text = textChunks(file, null);
  if (!text) return;
  const source = await ports.openFile(file.path);
  const wide = String.fromCharCode(...(await source.read(0, 4))) === 'RF64';
  await ports.patch(file.path, formBytes(file, wide) + text.loudnessAt, bextLoudness(loudness));
}

export const files: CodingFiles = {
  async open(file, picture, ports) {
    const sink = await ports.createFile(file.path);
    const text = textChunks(file, picture)?.bytes;
    const wav = await WavWriter.begin(sink, file.format, file.rate, file.length, text);
    return {
      write: (words) => wav.write(words),
      close: async () => {
        wav.finish();
        await sink.close();
      },
      abort: () => sink.abort(),
    };
  },
  carriesLoudness: hasText,
  sealLoudness,
  openBack: readBack,
  // FFmpeg ignores ID3 where a WAV file has LIST INFO as well, and axml always: both are read here.
  async carried(file, source, { tags: reported }) {
    const text = await chunkText(source);
    return [
      ...containerTags(file.tags, 'riff').map(({ key, value }) => ({
        ...{ key, value },
        found: key === 'axml ISRC' ? text?.besideId3.isrc : reportedTag(reported, key, 'riff'),
      })),
      ...containerTags(file.tags, id3Container(file.id3)).map(({ key, value }) => ({
        ...{ key, value },
        found: reportedTag(text?.tags ?? {}, key, 'id3'),
      })),
    ];
  },
  marks: chunkMarks,
};
