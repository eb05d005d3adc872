import type { AudioFile } from './audio-file.js';
import { chaptersOf } from './chapters.js';
import { containerTags, id3Container, reportedTag, type TagContainer } from './container-tags.js';
import type { EmbeddedPicture } from './flac-blocks.js';
import { id3Tag } from './id3.js';
import type { CarriedTag, DecoderReport } from './coding.js';

/** Marks as text chunks name them: “3 Glass Hour”, or “3.2 Glass Hour” for an index point. */
export const namedMarks = ({ marks }: AudioFile): { at: number; name: string }[] =>
  marks.map(({ at, track, index, name }) => ({
    at,
    name: `${track}${index === 1 ? '' : `.${index}`} ${name}`.trim(),
  }));

/** All text of a file as an ID3v2 tag: before an MP3, in a chunk of AIFF or WAV. */
export const id3Of = (file: AudioFile, picture: EmbeddedPicture | null): Uint8Array =>
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

/** The tags of a file in one container, with the values that FFmpeg reports. */
export const carriedIn = (
  container: TagContainer,
  { tags }: AudioFile,
  { tags: reported }: DecoderReport,
): Promise<CarriedTag[]> =>
  Promise.resolve(
    containerTags(tags, container).map(({ key, value }) => ({
      ...{ key, value },
      found: reportedTag(reported, key, container),
    })),
  );
