import { ByteReader, ByteWriter, type ByteSource } from '@oiseau/audio/pcm';
import type { ContainerTag } from './container-tags.js';

/** A picture to be embedded. */
export interface EmbeddedPicture {
  readonly mediaType: 'image/jpeg' | 'image/png';
  readonly width: number;
  readonly height: number;
  readonly bytes: Uint8Array;
}

/** A mark in a file: samples from its start, the track and index it stands for. */
export interface FileMark {
  readonly at: number;
  readonly track: number;
  readonly index: number;
  /** Title of the track. */
  readonly name: string;
  readonly isrc: string;
}

/** Everything that a FLAC file says beside its audio. */
export interface FlacText {
  readonly tags: readonly ContainerTag[];
  readonly picture: EmbeddedPicture | null;
  readonly marks: readonly FileMark[];
  readonly upc: string;
  /** Samples of one channel. */
  readonly length: number;
}

/** Block types [RFC 9639 section 8.1]. */
const PADDING = 1;
const VORBIS_COMMENT = 4;
const CUESHEET = 5;
const PICTURE = 6;

/** Largest block: its length has 24 bits. */
const MOST_BYTES = 0xff_ffff;
/** The number that a lead-out has in a cue sheet of no CD [RFC 9639 section 8.7]. */
const LEAD_OUT = 255;

interface Block {
  readonly type: number;
  readonly bytes: Uint8Array;
}

/** Numbers of FLAC are big-endian, those of Vorbis comments little-endian. */
const big = (value: number, bytes: number): number[] =>
  Array.from({ length: bytes }, (_, i) => Math.floor(value / 2 ** (8 * (bytes - 1 - i))) % 256);
const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text);

function blocksOf(text: FlacText): Block[] {
  const blocks = [{ type: VORBIS_COMMENT, bytes: vorbisComment(text.tags) }];
  if (text.picture) blocks.push({ type: PICTURE, bytes: pictureBlock(text.picture) });
  if (text.marks.length > 0) blocks.push({ type: CUESHEET, bytes: cueSheetBlock(text) });
  return blocks;
}

/** Bytes that the blocks take, with their heads and a little padding for later edits of tags. */
export const flacTextBytes = (text: FlacText): number =>
  blocksOf(text).reduce((sum, { bytes }) => sum + 4 + bytes.length, 0) + 1024;

/**
 * The blocks of a FLAC file behind STREAMINFO, filled with padding to exactly `space` bytes; the last is marked as such.
 * @throws RangeError when they do not fit
 */
export function flacMetadata(text: FlacText, space: number): Uint8Array {
  const out = new ByteWriter();
  for (const { type, bytes } of blocksOf(text)) {
    if (bytes.length > MOST_BYTES) throw new RangeError('A FLAC block is limited to 16 MiB.');
    out.raw([type, ...big(bytes.length, 3)]).raw(bytes);
  }
  const padding = space - out.length - 4;
  if (padding < 0) throw new RangeError(`${out.length} bytes of text do not fit into ${space}.`);
  out.raw([0x80 | PADDING, ...big(padding, 3)]).raw(new Uint8Array(padding));
  return out.done();
}

/** [RFC 9639 section 8.6] The words of who wrote it stay the same, so that the same file comes out every time. */
function vorbisComment(tags: readonly ContainerTag[]): Uint8Array {
  const out = new ByteWriter();
  const add = (text: string): void => {
    const bytes = utf8(text);
    out.u32(bytes.length).raw(bytes);
  };
  add('Oiseau');
  out.u32(tags.length);
  for (const { key, value } of tags) add(`${key}=${value}`);
  return out.done();
}

/** [RFC 9639 section 8.8] Type 3: the front cover. */
function pictureBlock({ mediaType, width, height, bytes }: EmbeddedPicture): Uint8Array {
  return new ByteWriter()
    .raw(big(3, 4))
    .raw(big(mediaType.length, 4))
    .latin1(mediaType)
    .raw(big(0, 4))
    .raw([...big(width, 4), ...big(height, 4), ...big(24, 4), ...big(0, 4), ...big(bytes.length, 4)])
    .raw(bytes)
    .done();
}

/** [RFC 9639 section 8.7] Each track begins at its first mark; the file’s end is the lead-out. */
function cueSheetBlock({ marks, upc, length }: FlacText): Uint8Array {
  const numbers = [...new Set(marks.map(({ track }) => track))];
  const out = new ByteWriter()
    .latin1(upc)
    .raw(new Uint8Array(128 - upc.length))
    .raw(big(0, 8))
    .raw(new Uint8Array(259))
    .raw([numbers.length + 1]);
  const track = (at: number, number: number, isrc: string, points: readonly FileMark[]): void => {
    out
      .raw(big(at, 8))
      .raw([number])
      .latin1(isrc)
      .raw(new Uint8Array(12 - isrc.length))
      .raw(new Uint8Array(14))
      .raw([points.length]);
    for (const point of points) out.raw(big(point.at - at, 8)).raw([point.index, 0, 0, 0]);
  };
  for (const number of numbers) {
    const own = marks.filter((mark) => mark.track === number);
    track(own[0]?.at ?? 0, number, own[0]?.isrc ?? '', own);
  }
  track(length, LEAD_OUT, '', []);
  return out.done();
}

export interface FlacBlocksFound {
  /** Where the blocks behind STREAMINFO begin, and how many bytes there are up to the audio. */
  readonly at: number;
  readonly space: number;
  readonly marks: readonly { readonly at: number; readonly track: number; readonly index: number }[];
}

/** Walks the blocks of a FLAC file. @throws RangeError when it is none */
export async function readFlacBlocks(source: ByteSource): Promise<FlacBlocksFound> {
  const head = new ByteReader(await source.read(0, 4));
  if (head.fourCC() !== 'fLaC') throw new RangeError('no FLAC file');
  let at = 4;
  let first = 0;
  let marks: FlacBlocksFound['marks'] = [];
  for (let last = false; !last;) {
    const block = new ByteReader(await source.read(at, 4), 'big');
    const lead = block.u8();
    const size = (block.u8() << 16) | block.u16();
    last = (lead & 0x80) !== 0;
    if ((lead & 0x7f) === CUESHEET) marks = readCueSheetBlock(await source.read(at + 4, size));
    at += 4 + size;
    if (first === 0) first = at;
  }
  return { at: first, space: at - first, marks };
}

function readCueSheetBlock(bytes: Uint8Array): FlacBlocksFound['marks'] {
  const reader = new ByteReader(bytes, 'big');
  reader.take(128 + 8 + 259);
  const marks: { at: number; track: number; index: number }[] = [];
  for (let left = reader.u8(); left > 0; left--) {
    const at = reader.u64();
    const track = reader.u8();
    reader.take(12 + 14);
    for (let points = reader.u8(); points > 0; points--) {
      marks.push({ at: at + reader.u64(), track, index: reader.u8() });
      reader.take(3);
    }
  }
  return marks;
}
