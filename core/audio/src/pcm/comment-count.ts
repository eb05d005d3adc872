import { msg } from '@oiseau/messages';
import { ByteReader, type ByteSource } from './bytes.js';
import { AudioRefused } from './refusal.js';

/** Tags of a coded file; a decoder compares each with all others, so that a million takes it minutes. */
const MOST_COMMENTS = 5000;
/** The block of FLAC that holds Vorbis comments [RFC 9639 8.6]. */
const VORBIS_COMMENT = 4;
const LAST_BLOCK = 0x80;
/** Blocks of metadata that are looked through. */
const MOST_BLOCKS = 1000;

/** Refuses a FLAC file with more tags than a decoder reads in time, by the number that it gives itself. @throws AudioRefused */
export async function demandFewComments(bytes: ByteSource): Promise<void> {
  const start = await bytes.read(0, 4);
  if (String.fromCharCode(...start) !== 'fLaC') return;
  let at = 4;
  for (let blocks = 0; blocks < MOST_BLOCKS; blocks++) {
    const head = await bytes.read(at, 4);
    if (head.length < 4) return;
    const [type = 0, high = 0, middle = 0, low = 0] = head;
    const size = (high << 16) | (middle << 8) | low;
    if ((type & 0x7f) === VORBIS_COMMENT) await demandFewIn(bytes, at + 4, size);
    if (type & LAST_BLOCK) return;
    at += 4 + size;
  }
  throw tooMany('blocks of metadata', MOST_BLOCKS);
}

async function demandFewIn(bytes: ByteSource, at: number, size: number): Promise<void> {
  const vendor = await bytes.read(at, 4);
  if (vendor.length < 4) return;
  const length = new ByteReader(vendor).u32();
  if (length + 8 > size) return;
  const count = await bytes.read(at + 4 + length, 4);
  if (count.length === 4 && new ByteReader(count).u32() > MOST_COMMENTS) throw tooMany('tags', MOST_COMMENTS);
}

const tooMany = (what: string, most: number): AudioRefused =>
  new AudioRefused(
    'too-many-tags',
    msg('The file has more than {most} {what}. Remove tags from it and add it again.', { most, what }),
  );
