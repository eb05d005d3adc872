import { crc16 } from './readers/bytes.js';
import type { Disc } from './readers/disc.js';

const bcd = (value: number): number => (Math.floor(value / 10) << 4) | (value % 10);
const time = (sectors: number): number[] => [
  bcd(Math.floor(sectors / 4500)),
  bcd(Math.floor(sectors / 75) % 60),
  bcd(sectors % 75),
];

/** One sector of each hundred tells the catalogue number, another the ISRC [IEC 60908 17.5]. */
const CATALOG_AT = 50;
const ISRC_AT = 25;

/** A character of an ISRC in six bits. */
const sixBits = (char: string): number =>
  /\d/.test(char) ? char.charCodeAt(0) - 48 : char.charCodeAt(0) - 48;

/** The 12 bytes of subcode Q of a sector as a writer puts them on a disc [IEC 60908 17.5]. @param at absolute */
export function subcodeQ(
  { upc, marks, leadOut }: Pick<Disc, 'upc' | 'marks' | 'leadOut'>,
  at: number,
): Uint8Array {
  const place = marks.findLastIndex((mark) => mark.at <= at);
  const mark = marks[place] ?? { track: 1, index: 0, at: 0, isrc: '', control: 0 };
  const start = marks.find(({ track, index }) => track === mark.track && index === 1);
  const isrc = start?.isrc ?? '';
  const control = (start?.control ?? 0) << 4;
  let body: number[];
  if (upc !== '' && at % 100 === CATALOG_AT) {
    const digits = `${upc}0`.match(/../g) ?? [];
    body = [control | 2, ...digits.map((pair) => parseInt(pair, 16)), 0, bcd(at % 75)];
  } else if (isrc !== '' && mark.index > 0 && at % 100 === ISRC_AT) {
    let bits = 0n;
    for (const char of isrc.slice(0, 5)) bits = (bits << 6n) | BigInt(sixBits(char));
    bits <<= 2n;
    for (const digit of isrc.slice(5)) bits = (bits << 4n) | BigInt(Number(digit));
    bits <<= 4n;
    const packed = Array.from({ length: 8 }, (_, i) => Number((bits >> BigInt(8 * (7 - i))) & 0xffn));
    body = [control | 3, ...packed, bcd(at % 75)];
  } else {
    // In a pause the time within the track counts down to its start.
    const within = mark.index === 0 ? (start?.at ?? leadOut) - at : at - (start?.at ?? 0);
    body = [control | 1, bcd(mark.track), bcd(mark.index), ...time(within), 0, ...time(at)];
  }
  const crc = crc16(Uint8Array.from(body));
  return Uint8Array.from([...body, crc >> 8, crc & 0xff]);
}

/** The 96 bytes of subcode of a sector: bit 7 is P, bit 6 is Q. */
export function subcodeOf(disc: Pick<Disc, 'upc' | 'marks' | 'leadOut'>, at: number): Uint8Array {
  const q = subcodeQ(disc, at);
  const inPause = disc.marks.findLast((mark) => mark.at <= at)?.index === 0;
  return Uint8Array.from({ length: 96 }, (_, i) => {
    const bit = ((q[i >> 3] ?? 0) >> (7 - (i & 7))) & 1;
    return (inPause ? 0x80 : 0) | (bit << 6);
  });
}
