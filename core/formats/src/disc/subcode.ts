import { frames, type Frames } from '@oiseau/audio/time';
import { crc16 } from './cd-text-packs.js';

/** What subcode Q of a sector says [IEC 60908 17.5]. */
export type SubcodeQ =
  | {
      readonly kind: 'position';
      readonly control: number;
      readonly track: number;
      readonly index: number;
      /** To the start of the track in its pause, else from it. */
      readonly within: Frames;
      readonly at: Frames;
    }
  | { readonly kind: 'catalog'; readonly upc: string }
  | { readonly kind: 'isrc'; readonly isrc: string };

/** Bytes of a sector as a drive reads them: audio, then the 96 bytes of its subcode. */
export const RAW_SECTOR = 2352 + 96;

/** Two decimal digits in a byte; NaN where it holds none. */
const decimal = (byte: number): number =>
  byte >> 4 > 9 || (byte & 15) > 9 ? NaN : 10 * (byte >> 4) + (byte & 15);

const time = (bytes: Uint8Array, at: number): Frames => {
  const [minutes = 0, seconds = 0, rest = 0] = bytes.subarray(at, at + 3);
  return frames((60 * decimal(minutes) + decimal(seconds)) * 75 + decimal(rest));
};

/** Subcode Q out of the 96 bytes of a sector, in which it is bit 6 of each. */
export function qOf(subcode: Uint8Array): Uint8Array {
  const q = new Uint8Array(12);
  for (let i = 0; i < 96; i++) q[i >> 3] = ((q[i >> 3] ?? 0) << 1) | (((subcode[i] ?? 0) >> 6) & 1);
  return q;
}

/** Reads the 12 bytes of subcode Q of a sector; null where its checksum is wrong, or it says nothing that a disc of audio can. */
export function readQ(q: Uint8Array): SubcodeQ | null {
  const [head = 0] = q;
  if (crc16(q.subarray(0, 10)) !== (((q[10] ?? 0) << 8) | (q[11] ?? 0))) return null;
  const digits = [...q.subarray(1, 9)].map((byte) => byte.toString(16).padStart(2, '0')).join('');
  switch (head & 15) {
    case 1:
      return {
        ...{ kind: 'position', control: head >> 4, track: decimal(q[1] ?? 0), index: decimal(q[2] ?? 0) },
        ...{ within: time(q, 3), at: time(q, 7) },
      };
    case 2:
      return { kind: 'catalog', upc: digits.slice(0, 13) };
    case 3: {
      // Five characters of six bits, two bits of nothing, seven digits of four.
      const bits = [...q.subarray(1, 5)].map((byte) => byte.toString(2).padStart(8, '0')).join('');
      const letters = (bits.slice(0, 30).match(/.{6}/g) ?? []).map((six) =>
        String.fromCharCode(parseInt(six, 2) + 48),
      );
      return { kind: 'isrc', isrc: letters.join('') + digits.slice(8, 15) };
    }
    default:
      return null;
  }
}
