import type { Reason } from '../shipment.js';
import { isEan, isIsrc, msf } from './codes.js';

/** A mark of a disc, in sectors from absolute 00:00:00. */
export interface DiscMark {
  readonly track: number;
  readonly index: number;
  readonly at: number;
  readonly isrc: string;
  /** The control nibble: 1 pre-emphasis, 2 copy permitted. */
  readonly control: number;
}

/** A disc as an image describes it. */
export interface Disc {
  readonly upc: string;
  /** In the order in which they stand, without lead-in and lead-out. */
  readonly marks: readonly DiscMark[];
  readonly leadOut: number;
  /** The file with the audio, and the absolute sector and byte at which it begins. */
  readonly audio: { readonly path: string; readonly from: number; readonly offset: number };
  /** The packs of CD-Text; empty where there are none. */
  readonly packs: Uint8Array;
}

/** Sectors of the longest disc that can be: 79:59:74. */
const LONGEST = 80 * 60 * 75 - 1;

/** What is wrong with the marks and codes of a disc [IEC 60908]. */
export function discFaults({ upc, marks, leadOut }: Omit<Disc, 'audio' | 'packs'>, file: string): Reason[] {
  const found: Reason[] = [];
  const fault = (code: string, message: string, track?: number): void =>
    void found.push({ code, message, file, ...(track === undefined ? {} : { track }) });
  if (upc !== '' && !isEan(upc)) fault('upc', `${upc} isn’t a valid UPC/EAN: its check digit is wrong.`);
  const starts = marks.filter(({ index }) => index === 1);
  if (starts.length === 0 || starts.length > 99)
    fault('tracks', `The disc has ${starts.length} tracks; 1 to 99 are allowed.`);
  starts.forEach(({ track, at, isrc }, i) => {
    if (track !== i + 1) fault('tracks', `Track ${track} found instead of track ${i + 1}.`, track);
    if (isrc !== '' && !isIsrc(isrc)) fault('isrc', `“${isrc}” isn’t a valid ISRC.`, track);
    const next = marks.find((mark) => mark.at > at && mark.track === track + 1)?.at ?? leadOut;
    if (next - at < 4 * 75)
      fault('track-length', `Track ${track} is ${msf(next - at)} long; the minimum is 4 s.`, track);
  });
  if ((starts[0]?.at ?? 0) < 150) fault('first-pause', 'The first pause is under 2 s.', 1);
  marks.forEach((mark, i) => {
    const before = marks[i - 1];
    if (before && mark.at <= before.at)
      fault(
        'marks',
        `Track ${mark.track} index ${mark.index} does not come after the previous mark.`,
        mark.track,
      );
  });
  if (leadOut <= (marks.at(-1)?.at ?? 0))
    fault('lead-out', 'The lead-out does not come after the last mark.');
  if (leadOut > LONGEST) fault('length', `The disc ends at ${msf(leadOut)}; the maximum is 79:59:74.`);
  const codes = starts.map(({ isrc }) => isrc).filter(Boolean);
  if (new Set(codes).size < codes.length) fault('isrc', 'Two tracks have the same ISRC.');
  return found;
}
