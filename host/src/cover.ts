import { open as openFile, readFile } from 'node:fs/promises';
import type { CoverFacts } from '@oiseau/checks';
import type { EmbeddedPicture } from '@oiseau/codings';
import pLimit from 'p-limit';
import type Sharp from 'sharp';

/** A cover embedded in files is at most this wide and high; shops and players ask for no more. */
const EMBEDDED_PIXELS = 1400;
const EMBEDDED_QUALITY = 88;
/** A picture of more pixels is no cover: decoded it would take hundreds of megabytes. */
export const MOST_COVER_PIXELS = 50_000_000;
/** The largest file of a picture. */
export const MOST_COVER_BYTES = 30 * 1024 * 1024;

/** One picture at a time is in the memory, however many are asked for. */
const oneByOne = pLimit(1);

/** What reads and makes pictures; loaded by the first one. */
async function loadSharp(): Promise<typeof Sharp> {
  const { default: sharp } = await import('sharp');
  sharp.concurrency(1);
  sharp.cache(false);
  return sharp;
}

const open = async (bytes: Uint8Array) => (await loadSharp())(bytes, { limitInputPixels: MOST_COVER_PIXELS });

/** The media type that the first bytes of a file tell; null when it is neither a JPEG nor a PNG. */
async function pictureType(path: string): Promise<'image/jpeg' | 'image/png' | null> {
  const file = await openFile(path, 'r');
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(8), 0, 8, 0);
    const hex = buffer.subarray(0, bytesRead).toString('hex');
    if (hex.startsWith('ffd8ff')) return 'image/jpeg';
    return hex === '89504e470d0a1a0a' ? 'image/png' : null;
  } finally {
    await file.close();
  }
}

/** What a picture is, from its head; null when it is neither a JPEG nor a PNG that can be read. Nothing is handed to a decoder before its first bytes were looked at. */
export async function coverFacts(path: string): Promise<CoverFacts | null> {
  const type = await pictureType(path);
  if (!type) return null;
  return oneByOne(async () => {
    const [bytes, sharp] = [await readFile(path), await loadSharp()];
    try {
      const { width, height, format, space, channels, hasAlpha } = await sharp(bytes, {
        limitInputPixels: false,
      }).metadata();
      if (format !== 'jpeg' && format !== 'png') return null;
      return { width, height, format, space, channels, hasAlpha: hasAlpha ?? false, bytes: bytes.length };
    } catch {
      return null;
    }
  });
}

/** A square picture as a shop takes it: sRGB, so many pixels a side. It must be square and at least as large. */
export function shopCover(path: string, form: 'jpeg' | 'png', pixels: number): Promise<Uint8Array> {
  return oneByOne(async () => {
    const picture = (await open(await readFile(path)))
      .rotate()
      .resize(pixels, pixels, { fit: 'fill', withoutEnlargement: true })
      .flatten({ background: '#ffffff' })
      .toColourspace('srgb');
    const coded = form === 'jpeg' ? picture.jpeg({ quality: 95, mozjpeg: false }) : picture.png();
    return new Uint8Array(await coded.toBuffer());
  });
}

/** A scaled copy of a cover for embedding: sRGB, JPEG, 1400 pixels at the most; what is small already is not blown up. */
export function embeddedCover(path: string): Promise<EmbeddedPicture> {
  return oneByOne(async () => {
    const { data, info } = await (
      await open(await readFile(path))
    )
      .rotate()
      .resize(EMBEDDED_PIXELS, EMBEDDED_PIXELS, { fit: 'inside', withoutEnlargement: true })
      .flatten({ background: '#ffffff' })
      .toColourspace('srgb')
      .jpeg({ quality: EMBEDDED_QUALITY, mozjpeg: false })
      .toBuffer({ resolveWithObject: true });
    return { mediaType: 'image/jpeg', width: info.width, height: info.height, bytes: new Uint8Array(data) };
  });
}

/** A small copy of a picture for lists: sRGB, JPEG, so many pixels wide and high at the most. */
export function thumbnail(path: string, pixels: number): Promise<Uint8Array> {
  return oneByOne(async () => {
    const small = await (
      await open(await readFile(path))
    )
      .rotate()
      .resize(pixels, pixels, { fit: 'inside', withoutEnlargement: true })
      .flatten({ background: '#ffffff' })
      .toColourspace('srgb')
      .jpeg({ quality: 82 })
      .toBuffer();
    return new Uint8Array(small);
  });
}
