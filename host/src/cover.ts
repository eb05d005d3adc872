import { readFile } from 'node:fs/promises';
import type { CoverFacts, EmbeddedPicture } from '@oiseau/core';
import sharp from 'sharp';

/** A cover embedded in files is at most this wide and high; shops and players ask for no more. */
const EMBEDDED_PIXELS = 1400;
const EMBEDDED_QUALITY = 88;
/** Pictures of more pixels are refused rather than decoded: the memory would be gone. */
const MOST_PIXELS = 20_000 * 20_000;

const open = (bytes: Uint8Array) => sharp(bytes, { limitInputPixels: MOST_PIXELS });

/** What a picture is, from its head; null when it is neither a JPEG nor a PNG that can be read. */
export async function coverFacts(path: string): Promise<CoverFacts | null> {
  const bytes = await readFile(path);
  try {
    const { width, height, format, space, channels, hasAlpha } = await open(bytes).metadata();
    if (format !== 'jpeg' && format !== 'png') return null;
    return { width, height, format, space, channels, hasAlpha: hasAlpha ?? false, bytes: bytes.length };
  } catch {
    return null;
  }
}

/** A scaled copy of a cover for embedding: sRGB, JPEG, 1400 pixels at the most; what is small already is not blown up. */
export async function embeddedCover(path: string): Promise<EmbeddedPicture> {
  const { data, info } = await open(await readFile(path))
    .rotate()
    .resize(EMBEDDED_PIXELS, EMBEDDED_PIXELS, { fit: 'inside', withoutEnlargement: true })
    .flatten({ background: '#ffffff' })
    .toColourspace('srgb')
    .jpeg({ quality: EMBEDDED_QUALITY, mozjpeg: false })
    .toBuffer({ resolveWithObject: true });
  return { mediaType: 'image/jpeg', width: info.width, height: info.height, bytes: new Uint8Array(data) };
}
