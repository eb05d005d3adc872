import {
  plainText,
  containerTags,
  id3Container,
  tagContainer,
  type ContainerTag,
  flacMetadata,
  flacTextBytes,
  readFlacBlocks,
  type EmbeddedPicture,
  type FlacText,
  id3Tag,
  chaptersOf,
  oggChapterTags,
} from '@oiseau/codings';
import {
  aiffHeader,
  swapWords,
  isInteger,
  WORD_BYTES,
  wordBits,
  bextLoudness,
  wavTextChunks,
  type BextLoudness,
  WavWriter,
} from '@oiseau/audio/pcm';
import type { PlannedAudio } from './planned.js';
import type { FileSink, RenderPorts } from './ports.js';

/** What a file of this plan will carry as tags, under the names of its container. */
export const tagsOf = ({ coding, tags, id3 }: PlannedAudio): ContainerTag[] =>
  coding === 'raw' ? [] : containerTags(tags, tagContainer(coding, id3));

/** Marks as text chunks name them: “3 Glass Hour”, or “3.2 Glass Hour” for an index point. */
const namedMarks = ({ marks }: PlannedAudio): { at: number; name: string }[] =>
  marks.map(({ at, track, index, name }) => ({
    at,
    name: `${track}${index === 1 ? '' : `.${index}`} ${name}`.trim(),
  }));

const flacText = (file: PlannedAudio, picture: EmbeddedPicture | null): FlacText => ({
  tags: tagsOf(file),
  picture,
  marks: file.marks,
  upc: file.upc,
  length: file.length,
});

/** Everything that a file says, as an ID3v2 tag: before an MP3, in a chunk of AIFF or WAV. */
const id3Of = (file: PlannedAudio, picture: EmbeddedPicture | null): Uint8Array =>
  id3Tag(
    {
      tags: containerTags(file.tags, id3Container(file.id3)),
      picture,
      chapters: chaptersOf(file).map(({ start, end, title }) => ({
        ...{ startMs: Math.round(start * 1000), endMs: Math.round(end * 1000), title },
      })),
    },
    file.id3,
  );

/** A WAV image is words and nothing else: no text, as a plant expects. */
const hasText = (file: PlannedAudio): boolean => Object.keys(file.tags).length > 0 || file.marks.length > 0;

function wavText(
  file: PlannedAudio,
  picture: EmbeddedPicture | null,
): { bytes: Uint8Array; loudnessAt: number } | null {
  if (!hasText(file)) return null;
  const info = tagsOf(file).filter(({ key }) => key.length === 4);
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

/** Bytes of a WAV file's head before the text chunks: RIFF, form, and what float words add. */
const wavFormBytes = (file: PlannedAudio, wide: boolean): number =>
  12 + (wide ? 36 : 0) + 8 + (isInteger(file.format) ? 16 : 18 + 12);

/** Opens a file for the words of a plan, in whatever container it has. */
export async function openContainer(
  file: PlannedAudio,
  picture: EmbeddedPicture | null,
  ports: RenderPorts,
): Promise<FileSink> {
  switch (file.coding) {
    case 'raw':
      return ports.createFile(file.path);
    case 'wav': {
      const sink = await ports.createFile(file.path);
      const wav = await WavWriter.begin(
        sink,
        file.format,
        file.rate,
        file.length,
        wavText(file, picture)?.bytes,
      );
      return {
        write: (words) => wav.write(words),
        close: async () => {
          wav.finish();
          await sink.close();
        },
        abort: () => sink.abort(),
      };
    }
    case 'aiff': {
      const head = aiffHeader(file.format, file.rate, file.length, {
        marks: namedMarks(file),
        id3: id3Of(file, picture),
      });
      const sink = await ports.createFile(file.path);
      await sink.write(head);
      const step = WORD_BYTES[file.format];
      return { ...sink, write: (words) => sink.write(swapWords(words.slice(), step)) };
    }
    case 'flac':
    case 'alac':
    case 'mp3':
    case 'aac':
    case 'opus':
    case 'ogg': {
      const { coding, rate, format, bitrate, quality, length } = file;
      const headBytes = coding === 'flac' ? flacTextBytes(flacText(file, picture)) : 0;
      const chapters = coding === 'aac' || coding === 'alac' ? chaptersOf(file) : [];
      return ports.encode(file.path, {
        ...{ coding, rate, format, bitrate, quality, length, headBytes, chapters },
      });
    }
    default:
      return file.coding satisfies never;
  }
}

/** Writes the tags and the cover into a finished file whose container takes them afterwards. */
export async function tagFile(
  file: PlannedAudio,
  picture: EmbeddedPicture | null,
  ports: RenderPorts,
): Promise<void> {
  switch (file.coding) {
    case 'raw':
    case 'wav':
    case 'aiff':
      return;
    case 'flac': {
      const { at, space } = await readFlacBlocks(await ports.openFile(file.path));
      await ports.patch(file.path, at, flacMetadata(flacText(file, picture), space));
      return;
    }
    case 'mp3':
      return ports.prepend(file.path, id3Of(file, picture));
    case 'aac':
    case 'alac':
      return ports.tag(file.path, file.coding, tagsOf(file), picture);
    case 'opus':
    case 'ogg':
      return ports.tag(file.path, file.coding, [...tagsOf(file), ...oggChapterTags(file)], picture);
    default:
      return file.coding satisfies never;
  }
}

/** Whether a file carries its own loudness, which is known once all of it is written. */
export const carriesLoudness = (file: PlannedAudio): boolean => file.coding === 'wav' && hasText(file);

/** Writes the loudness of a finished WAV file into its `bext`. */
export async function sealLoudness(
  file: PlannedAudio,
  loudness: BextLoudness,
  ports: RenderPorts,
): Promise<void> {
  const text = carriesLoudness(file) ? wavText(file, null) : null;
  if (!text) return;
  const source = await ports.openFile(file.path);
  const wide = String.fromCharCode(...(await source.read(0, 4))) === 'RF64';
  await ports.patch(file.path, wavFormBytes(file, wide) + text.loudnessAt, bextLoudness(loudness));
}
