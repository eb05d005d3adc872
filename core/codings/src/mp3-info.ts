/** Samples that an MPEG-1 layer III frame holds. */
export const MP3_FRAME = 1152;

/** Bytes behind the four letters of an information frame (flags, frames, bytes, seek table, quality) up to the encoder’s part. */
const ENCODER_AT = 120;
/** From there to the delay and padding, and to the checksum over the frame so far. */
const DELAY_AT = ENCODER_AT + 21;
const CRC_AT = ENCODER_AT + 34;

/**
 * Sets how much of the end of an MP3 file is padding, so that players give back exactly `length` samples: the information frame (Xing or
 * Info) at its head tells the encoder’s delay and padding, 12 bits each, and has a CRC-16 over itself.
 * @param head the first bytes of the file, which begins with the frame; changed in place
 * @throws RangeError when there is no such frame
 */
export function setMp3Length(head: Uint8Array, length: number): void {
  const at = find(head);
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  const frames = view.getUint32(at + 8);
  const delay = (view.getUint8(at + DELAY_AT) << 4) | (view.getUint8(at + DELAY_AT + 1) >> 4);
  const padding = frames * MP3_FRAME - delay - length;
  if (padding < 0 || padding > 0xfff) throw new RangeError(`a padding of ${padding} samples`);
  view.setUint8(at + DELAY_AT + 1, ((delay & 0xf) << 4) | (padding >> 8));
  view.setUint8(at + DELAY_AT + 2, padding & 0xff);
  view.setUint16(at + CRC_AT, crc16(head.subarray(0, at + CRC_AT)));
}

function find(head: Uint8Array): number {
  for (let at = 4; at + CRC_AT + 2 <= head.length; at++) {
    const letters = String.fromCharCode(...head.subarray(at, at + 4));
    if (letters === 'Xing' || letters === 'Info') return at;
  }
  throw new RangeError('the MP3 file has no information frame');
}

/** CRC-16 of the polynomial 0x8005, bits reversed, start 0. */
function crc16(bytes: Uint8Array): number {
  let crc = 0;
  for (const byte of bytes) {
    crc ^= byte;
    for (let bit = 0; bit < 8; bit++) crc = (crc >> 1) ^ (crc & 1 ? 0xa001 : 0);
  }
  return crc;
}
