import { ByteWriter } from '@oiseau/audio/pcm';
import { FRAMES_PER_SECOND, type Frames } from '@oiseau/audio/time';
import { packCdText, type CdTextBlock } from './cd-text-packs.js';
import type { Mark } from './marks.js';

/** Names of the files of a disc description [DDP 2.00]. */
export const DDP_ID = 'DDPID';
export const DDP_MAP = 'DDPMS';
export const DDP_MARKS = 'PQDESCR';
export const DDP_IMAGE = 'IMAGE.DAT';
export const DDP_CD_TEXT = 'CDTEXT.BIN';
/** Checksums of all of them. */
export const DDP_SUMS = 'MD5SUMS';

/** The files that describe an image, in the order in which they are written. */
const DESCRIPTION = [DDP_ID, DDP_MAP, DDP_MARKS, DDP_CD_TEXT, DDP_SUMS] as const;
export type DdpName = (typeof DESCRIPTION)[number];

/** Sectors of the two seconds before index 01 that every disc begins with. */
const PREGAP_SECTORS = '0150';

export interface DdpMark extends Mark {
  /** Control flags: 1 pre-emphasis, 2 copy permitted. */
  readonly control: number;
  /** On index 01 only; 12 characters, or empty. */
  readonly isrc: string;
}

/** A disc as a pressing plant is told of it. */
export interface DdpDisc {
  /** 13 digits; empty when there is none. */
  readonly upc: string;
  /** Up to 48 ASCII characters. */
  readonly masterId: string;
  /** Track 1 index 0 at 0 first, then in order; without lead-in and lead-out. */
  readonly marks: readonly DdpMark[];
  readonly leadOut: Frames;
  /** Blocks of the CD-Text that say something; none when the album has no text. */
  readonly cdText: readonly CdTextBlock[];
}

/** Writes fields of a fixed width: text to the left, filled with blanks; numbers to the right, filled with zeros. */
class FieldWriter {
  readonly #out = new ByteWriter();
  text(value: string, width: number): this {
    if (value.length > width || !/^[\x20-\x7e]*$/.test(value))
      throw new RangeError(`“${value}” does not fit in ${width} ASCII characters`);
    this.#out.latin1(value.padEnd(width));
    return this;
  }
  number(value: number, width: number): this {
    return this.text(String(value).padStart(width, '0'), width);
  }
  blank(width: number): this {
    return this.text('', width);
  }
  done(): Uint8Array {
    return this.#out.done();
  }
}

/** The bytes of a file that describes an image, all but the checksums (docs/rules.md 8). */
export function ddpBytes(name: Exclude<DdpName, typeof DDP_SUMS>, disc: DdpDisc): Uint8Array {
  switch (name) {
    case DDP_ID:
      return idBytes(disc);
    case DDP_MAP:
      return mapBytes(disc.leadOut, pqStream(disc).length, packCdText(disc.cdText).length);
    case DDP_MARKS:
      return pqStream(disc);
    case DDP_CD_TEXT:
      return packCdText(disc.cdText);
    default:
      return name satisfies never;
  }
}

/** The files that describe a disc, in the order in which they are written. */
export const ddpNames = ({ cdText }: Pick<DdpDisc, 'cdText'>): DdpName[] =>
  DESCRIPTION.filter((name) => name !== DDP_CD_TEXT || cdText.length > 0);

/** Every file that has a checksum, in the order of those. */
export const summedPaths = ({ cdText }: Pick<DdpDisc, 'cdText'>): string[] => [
  DDP_ID,
  DDP_MAP,
  DDP_MARKS,
  ...(cdText.length > 0 ? [DDP_CD_TEXT] : []),
  DDP_IMAGE,
];

function idBytes({ upc, masterId }: DdpDisc): Uint8Array {
  return (
    new FieldWriter()
      .text('DDP 2.00', 8)
      .text(upc, 13)
      // Start and length of the map stream, media number.
      .blank(8 + 8 + 1)
      .text(masterId, 48)
      .blank(1)
      .text('CD', 2)
      // One side, this is side 0; one layer, this is layer 0.
      .text('1010', 4)
      .blank(2 + 33)
      .done()
  );
}

/** The map: a packet for the audio, one for the marks, one for the CD-Text. */
function mapBytes(sectors: number, pqBytes: number, cdTextBytes: number): Uint8Array {
  const audio = mapPacket({
    type: 'D0',
    length: sectors,
    subcode: '',
    mode: ['DA', '0', '0'],
    pregap: PREGAP_SECTORS,
    name: DDP_IMAGE,
  });
  const other = (length: number, subcode: string, name: string): Uint8Array =>
    mapPacket({ type: 'S0', length, subcode, mode: ['', '', ''], pregap: '', name });
  const packets = [audio, other(pqBytes, 'PQ DESCR', DDP_MARKS)];
  if (cdTextBytes > 0) packets.push(other(cdTextBytes, 'CDTEXT', DDP_CD_TEXT));
  return Uint8Array.from(packets.flatMap((packet) => [...packet]));
}

function mapPacket({
  type,
  length,
  subcode,
  mode: [mode, storage, scrambled],
  pregap,
  name,
}: {
  type: string;
  length: number;
  subcode: string;
  mode: [mode: string, storage: string, scrambled: string];
  pregap: string;
  name: string;
}): Uint8Array {
  return (
    new FieldWriter()
      .text('VVVM', 4)
      .text(type, 2)
      .blank(8)
      .number(length, 8)
      .blank(8)
      .text(subcode, 8)
      .text(mode, 2)
      .text(storage, 1)
      .text(scrambled, 1)
      .blank(4)
      .text(pregap, 4)
      // Postgap, media, track, index, ISRC.
      .blank(4 + 1 + 2 + 2 + 12)
      .number(17, 3)
      .text(name, 17)
      // New, next pregap, pause to add, offset, filler.
      .blank(1 + 4 + 8 + 9 + 15)
      .done()
  );
}

/** Lead-in with the UPC/EAN, every mark, lead-out; all times absolute. */
function pqStream({ marks, leadOut, upc }: DdpDisc): Uint8Array {
  const two = (value: number): string => String(value).padStart(2, '0');
  const packet = (track: string, index: number, at: number, control: number, isrc: string, code: string) =>
    new FieldWriter()
      .text('VVVS', 4)
      .text(track, 2)
      .number(index, 2)
      .number(0, 2)
      .number(Math.floor(at / (60 * FRAMES_PER_SECOND)), 2)
      .number(Math.floor(at / FRAMES_PER_SECOND) % 60, 2)
      .number(at % FRAMES_PER_SECOND, 2)
      .text(`${control.toString(16).toUpperCase()}1`, 2)
      .text('00', 2)
      .text(isrc, 12)
      .text(code, 13)
      .blank(19)
      .done();
  const packets = [
    packet('00', 1, 0, 0, '', upc),
    ...marks.map(({ track, index, frames, control, isrc }) =>
      packet(two(track), index, frames, control, index === 1 ? isrc : '', ''),
    ),
    packet('AA', 1, leadOut, 0, '', ''),
  ];
  return Uint8Array.from(packets.flatMap((bytes) => [...bytes]));
}

/** `md5sum -c` compatible lines. */
export const checksumLines = (sums: readonly { readonly path: string; readonly md5: string }[]): string =>
  sums.map(({ path, md5 }) => `${md5}  ${path}\n`).join('');
