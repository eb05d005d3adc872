import { ByteWriter } from '../pcm/bytes.js';
import type { ContainerTag } from './container-tags.js';
import type { EmbeddedPicture } from './flac-blocks.js';

/** Numbers of ID3 are big-endian. */
const big = (value: number, bits: 7 | 8): number[] =>
  [3, 2, 1, 0].map((place) => Math.floor(value / 2 ** (bits * place)) % 2 ** bits);

/** UTF-16 with its byte order mark: ID3v2.3 has that and ISO 8859-1 only. */
const UTF_16 = 1;
const ISO_8859_1 = 0;
function utf16(text: string): number[] {
  const bytes = [0xff, 0xfe];
  for (let i = 0; i < text.length; i++) bytes.push(text.charCodeAt(i) & 0xff, text.charCodeAt(i) >> 8);
  return bytes;
}
const latin1 = (text: string): number[] => Array.from(text, (char) => char.charCodeAt(0));

/** The content of a text frame, of a user text frame (`TXXX:NAME`) or of a comment [ID3v2.3 sections 4.2 and 4.11]. */
function content({ key, value }: ContainerTag): number[] {
  if (key === 'COMM') return [UTF_16, ...latin1('eng'), ...utf16(''), 0, 0, ...utf16(value)];
  if (key.startsWith('TXXX:')) return [UTF_16, ...utf16(key.slice(5)), 0, 0, ...utf16(value)];
  return [UTF_16, ...utf16(value)];
}

/** An ID3v2.3 tag with every frame that is listed and a front cover, ready to stand before an MP3 or in an AIFF chunk. */
export function id3Tag(tags: readonly ContainerTag[], picture: EmbeddedPicture | null): Uint8Array {
  const frames = new ByteWriter();
  const add = (id: string, size: number): ByteWriter => frames.latin1(id).raw(big(size, 8)).raw([0, 0]);
  for (const tag of tags) {
    const bytes = content(tag);
    add(tag.key.slice(0, 4), bytes.length).raw(bytes);
  }
  if (picture) {
    // Encoding, media type, type 3 (front cover), no description [section 4.15].
    const head = [ISO_8859_1, ...latin1(picture.mediaType), 0, 3, 0];
    add('APIC', head.length + picture.bytes.length)
      .raw(head)
      .raw(picture.bytes);
  }
  return new ByteWriter().latin1('ID3').raw([3, 0, 0]).raw(big(frames.length, 7)).raw(frames.done()).done();
}
