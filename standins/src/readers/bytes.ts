import { open } from 'node:fs/promises';

/** Some bytes of a file, fewer at its end. */
export async function bytesOf(path: string, at: number, count: number): Promise<Buffer> {
  const file = await open(path, 'r');
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(count), 0, count, at);
    return buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}

/** CRC-16 with polynomial 0x1021, begun at 0, all bits turned over: of CD-Text packs and of subcode Q. */
export function crc16(bytes: Uint8Array): number {
  let crc = 0;
  for (const byte of bytes) {
    crc ^= byte << 8;
    for (let bit = 0; bit < 8; bit++)
      crc = crc & 0x8000 ? ((crc << 1) ^ 0x1021) & 0xffff : (crc << 1) & 0xffff;
  }
  return ~crc & 0xffff;
}
