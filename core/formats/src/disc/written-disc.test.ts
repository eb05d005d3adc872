import { describe, expect, it } from 'vitest';
import { frames, SECTOR_BYTES } from '@oiseau/audio/time';
import { qOf, RAW_SECTOR, readQ } from './subcode.js';
import { DiscComparison, type WantedDisc } from './written-disc.js';

/** CRC of ITU-T with all bits turned over, bit by bit. */
function crc(bytes: readonly number[]): number {
  let register = 0;
  for (const byte of bytes)
    for (let bit = 7; bit >= 0; bit--) {
      const feedback = ((register >> 15) ^ (byte >> bit)) & 1;
      register = ((register << 1) & 0xffff) ^ (feedback ? 0x1021 : 0);
    }
  return register ^ 0xffff;
}
const q = (...body: number[]): Uint8Array => Uint8Array.from([...body, crc(body) >> 8, crc(body) & 0xff]);
const bcd = (value: number): number => 16 * Math.floor(value / 10) + (value % 10);
const time = (sectors: number): number[] => [
  bcd(Math.floor(sectors / 4500)),
  bcd(Math.floor(sectors / 75) % 60),
  bcd(sectors % 75),
];

describe('subcode Q', () => {
  it('tells the position, in decimal digits', () => {
    // Track 12, index 1, copy permitted, 00:01:05 into it, at 47:59:74.
    const bytes = q(0x21, 0x12, 0x01, 0x00, 0x01, 0x05, 0x00, 0x47, 0x59, 0x74);
    expect(readQ(bytes)).toEqual({
      ...{ kind: 'position', control: 2, track: 12, index: 1 },
      ...{ within: 80, at: (47 * 60 + 59) * 75 + 74 },
    });
  });

  it('tells the catalogue number and the ISRC', () => {
    expect(readQ(q(0x02, 0x20, 0x26, 0x11, 0x09, 0x00, 0x01, 0x40, 0x00, 0x33))).toEqual({
      ...{ kind: 'catalog', upc: '2026110900014' },
    });
    // Z Z O I S: 90−48 = 42 twice, 79−48 = 31, 73−48 = 25, 83−48 = 35, six bits each, then two of nothing.
    const letters = [42, 42, 31, 25, 35].map((value) => value.toString(2).padStart(6, '0')).join('');
    const packed = (`${letters}00`.match(/.{8}/g) ?? []).map((bits) => parseInt(bits, 2));
    expect(readQ(q(0x03, ...packed, 0x26, 0x00, 0x00, 0x70, 0x12))).toEqual({
      kind: 'isrc',
      isrc: 'ZZOIS2600007',
    });
  });

  it('is nothing where its checksum is wrong', () => {
    const bytes = q(0x01, 0x01, 0x01, 0, 0, 0, 0, 0, 2, 0);
    bytes[4] = 1;
    expect(readQ(bytes)).toBeNull();
  });

  it('is bit 6 of the 96 bytes of a sector', () => {
    const subcode = new Uint8Array(96).fill(0x80);
    subcode[1] = 0xc0;
    subcode[95] = 0x40;
    expect([...qOf(subcode)]).toEqual([0x40, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1]);
  });
});

describe('a written disc', () => {
  /** Two seconds of pause, four seconds of one track. */
  const wanted: WantedDisc = {
    marks: [
      { track: 1, index: 0, frames: frames(0) },
      { track: 1, index: 1, frames: frames(150) },
    ],
    ...{ leadOut: frames(450), upc: '', tracks: [{ isrc: '', control: 0 }] },
  };
  const audio = Uint8Array.from({ length: 450 * SECTOR_BYTES }, (_, i) => (i * 7) & 0xff);
  const disc = (): Uint8Array => {
    const raw = new Uint8Array(450 * RAW_SECTOR);
    for (let at = 0; at < 450; at++) {
      raw.set(audio.subarray(at * SECTOR_BYTES, (at + 1) * SECTOR_BYTES), at * RAW_SECTOR);
      const index = at < 150 ? 0 : 1;
      const bytes = q(0x01, 0x01, index, ...time(Math.abs(at - 150)), 0, ...time(at));
      for (let i = 0; i < 96; i++)
        raw[at * RAW_SECTOR + SECTOR_BYTES + i] = (((bytes[i >> 3] ?? 0) >> (7 - (i & 7))) & 1) << 6;
    }
    return raw;
  };
  const laid = (raw: Uint8Array, of = wanted) => {
    const comparison = new DiscComparison(of);
    // In two goes: what is known goes over from one to the next.
    const cut = 200;
    comparison.push(raw.subarray(0, cut * RAW_SECTOR), audio.subarray(0, cut * SECTOR_BYTES));
    comparison.push(raw.subarray(cut * RAW_SECTOR), audio.subarray(cut * SECTOR_BYTES));
    return comparison.report();
  };

  it('is as its image', () => {
    expect(laid(disc())).toEqual({
      ...{ sectors: 450, audioDiffers: 0, firstDifference: null, subcodeDiffers: 0, codes: [], isSame: true },
    });
  });

  it('differs by a bit of its audio, by its subcode, by a code that never comes, by its length', () => {
    const scratched = disc();
    scratched[222 * RAW_SECTOR + 9] = (scratched[222 * RAW_SECTOR + 9] ?? 0) ^ 1;
    expect(laid(scratched)).toMatchObject({ audioDiffers: 1, firstDifference: 222, isSame: false });
    const lost = disc();
    lost[300 * RAW_SECTOR + SECTOR_BYTES + 20] = (lost[300 * RAW_SECTOR + SECTOR_BYTES + 20] ?? 0) ^ 0x40;
    expect(laid(lost)).toMatchObject({ subcodeDiffers: 1, audioDiffers: 0, isSame: false });
    const coded = { ...wanted, upc: '2012345678903', tracks: [{ isrc: 'ZZOIS2600001', control: 0 }] };
    expect(laid(disc(), coded).codes).toEqual([
      'UPC/EAN “” instead of “2012345678903”',
      'track 1: ISRC “” instead of “ZZOIS2600001”',
    ]);
    expect(laid(disc(), { ...wanted, leadOut: frames(451) }).codes).toEqual(['00:06:00 instead of 00:06:01']);
    expect(laid(disc(), { ...wanted, tracks: [{ isrc: '', control: 2 }] }).subcodeDiffers).toBe(450);
  });
});
