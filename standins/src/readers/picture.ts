import { bytesOf } from './bytes.js';

/** What the head of a picture says. */
export interface Picture {
  readonly mediaType: 'image/jpeg' | 'image/png';
  readonly width: number;
  readonly height: number;
  /** Components of a pixel. */
  readonly colours: number;
}

/** Reads the head of a JPEG or PNG; null where it is neither. */
export async function pictureOf(path: string): Promise<Picture | null> {
  const bytes = await bytesOf(path, 0, 1 << 20);
  if (bytes.toString('latin1', 1, 4) === 'PNG' && bytes.length > 25)
    return {
      mediaType: 'image/png',
      ...{ width: bytes.readUInt32BE(16), height: bytes.readUInt32BE(20) },
      colours: [1, 0, 3, 3, 2, 0, 4][bytes[25] ?? 1] ?? 0,
    };
  if (bytes[0] !== 0xff || bytes[1] !== 0xd8) return null;
  let at = 2;
  while (at + 9 < bytes.length && bytes[at] === 0xff) {
    const marker = bytes[at + 1] ?? 0;
    if (marker >= 0xc0 && marker <= 0xc3)
      return {
        mediaType: 'image/jpeg',
        ...{
          width: bytes.readUInt16BE(at + 7),
          height: bytes.readUInt16BE(at + 5),
          colours: bytes[at + 9] ?? 0,
        },
      };
    at += 2 + bytes.readUInt16BE(at + 2);
  }
  return null;
}
