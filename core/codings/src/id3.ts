import { ByteWriter } from '@oiseau/audio/pcm';
import type { ContainerTag } from './container-tags.js';
import type { EmbeddedPicture } from './flac-blocks.js';

/** Numbers of ID3 are big-endian. */
const big = (value: number, bits: 7 | 8): number[] =>
  [3, 2, 1, 0].map((place) => Math.floor(value / 2 ** (bits * place)) % 2 ** bits);

/** Marks of the encodings [ID3v2.4 section 4]: ID3v2.3 has the first two only. */
const ISO_8859_1 = 0;
const UTF_16 = 1;
const UTF_8 = 3;
function utf16(text: string): number[] {
  const bytes = [0xff, 0xfe];
  for (let i = 0; i < text.length; i++) bytes.push(text.charCodeAt(i) & 0xff, text.charCodeAt(i) >> 8);
  return bytes;
}
const latin1 = (text: string): number[] => Array.from(text, (char) => char.charCodeAt(0));

export type Id3Version = 2.3 | 2.4;

/** How a version writes text, and ends it where something follows. */
interface Script {
  readonly mark: number;
  readonly text: (text: string) => readonly number[];
  readonly end: readonly number[];
  /** Bits of each byte of a frame’s size. */
  readonly sizeBits: 7 | 8;
}
const SCRIPTS: Readonly<Record<Id3Version, Script>> = {
  2.3: { mark: UTF_16, text: utf16, end: [0, 0], sizeBits: 8 },
  2.4: { mark: UTF_8, text: (text) => [...new TextEncoder().encode(text)], end: [0], sizeBits: 7 },
};

/** The content of a text frame, of a user text frame (`TXXX:NAME`) or of a comment [ID3v2.3 sections 4.2 and 4.11]. */
function content({ key, value }: ContainerTag, { mark, text, end }: Script): number[] {
  if (key === 'COMM') return [mark, ...latin1('eng'), ...text(''), ...end, ...text(value)];
  if (key.startsWith('TXXX:')) return [mark, ...text(key.slice(5)), ...end, ...text(value)];
  return [mark, ...text(value)];
}

/** A chapter in milliseconds from the start of the file. */
export interface Id3Chapter {
  readonly startMs: number;
  readonly endMs: number;
  readonly title: string;
}

/** Everything that a tag holds. */
export interface Id3Content {
  readonly tags: readonly ContainerTag[];
  readonly picture: EmbeddedPicture | null;
  readonly chapters: readonly Id3Chapter[];
}

/** A list of chapters has its number of entries in a byte. */
const MOST_CHAPTERS = 255;
/** Where a chapter lies is told in time, not in bytes [ID3v2 Chapter Frame Addendum 3.1]. */
const NO_OFFSET = [0xff, 0xff, 0xff, 0xff];

/** An ID3v2 tag with every frame that is listed, a front cover and chapters, ready to stand before an MP3 or in a chunk of AIFF or WAV. */
export function id3Tag({ tags, picture, chapters }: Id3Content, version: Id3Version): Uint8Array {
  const script = SCRIPTS[version];
  const frame = (out: ByteWriter, id: string, parts: readonly Iterable<number>[], size: number): void => {
    out.latin1(id).raw(big(size, script.sizeBits)).raw([0, 0]);
    for (const part of parts) out.raw(part);
  };
  const textFrame = (out: ByteWriter, tag: ContainerTag): void => {
    const bytes = content(tag, script);
    frame(out, tag.key.slice(0, 4), [bytes], bytes.length);
  };
  const frames = new ByteWriter();
  for (const tag of tags) textFrame(frames, tag);
  if (picture) {
    // Encoding, media type, type 3 (front cover), no description [section 4.15].
    const head = [ISO_8859_1, ...latin1(picture.mediaType), 0, 3, 0];
    frame(frames, 'APIC', [head, picture.bytes], head.length + picture.bytes.length);
  }
  const told = chapters.slice(0, MOST_CHAPTERS);
  const names = told.map((_, i) => [...latin1(`ch${i + 1}`), 0]);
  if (told.length > 0) {
    // The one list that there is, in order [addendum 3.2].
    const list = [...latin1('toc'), 0, 3, told.length, ...names.flat()];
    frame(frames, 'CTOC', [list], list.length);
  }
  told.forEach(({ startMs, endMs, title }, i) => {
    const body = new ByteWriter().raw(names[i] ?? []).raw([...big(startMs, 8), ...big(endMs, 8)]);
    body.raw(NO_OFFSET).raw(NO_OFFSET);
    textFrame(body, { key: 'TIT2', value: title });
    const bytes = body.done();
    frame(frames, 'CHAP', [bytes], bytes.length);
  });
  return new ByteWriter()
    .latin1('ID3')
    .raw([version === 2.4 ? 4 : 3, 0, 0])
    .raw(big(frames.length, 7))
    .raw(frames.done())
    .done();
}
