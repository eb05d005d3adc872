/** What the head of a picture says. */
export interface PictureSize {
  readonly form: 'jpeg' | 'png';
  readonly width: number;
  readonly height: number;
  readonly channels: number;
}

const startsWith = (bytes: Uint8Array, ...head: number[]): boolean =>
  head.every((byte, i) => bytes[i] === byte);

/** Size and colours of a JPEG [ITU-T T.81 B.2.2] or PNG [ISO/IEC 15948 11.2.2]; null where it is neither. */
export function pictureSize(bytes: Uint8Array): PictureSize | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (startsWith(bytes, 0x89, 0x50, 0x4e, 0x47)) {
    if (bytes.length < 26) return null;
    const channels = { 0: 1, 2: 3, 3: 3, 4: 2, 6: 4 }[bytes[25] ?? -1] ?? 0;
    return { form: 'png', width: view.getUint32(16), height: view.getUint32(20), channels };
  }
  if (!startsWith(bytes, 0xff, 0xd8)) return null;
  for (let at = 2; at + 9 < bytes.length;) {
    const marker = view.getUint16(at);
    const isFrame = marker >= 0xffc0 && marker <= 0xffcf && ![0xffc4, 0xffc8, 0xffcc].includes(marker);
    if (isFrame)
      return {
        form: 'jpeg',
        ...{ width: view.getUint16(at + 7), height: view.getUint16(at + 5), channels: bytes[at + 9] ?? 0 },
      };
    at += 2 + view.getUint16(at + 2);
  }
  return null;
}
