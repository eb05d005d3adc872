import { english, figure, joined, msg, type Message, type ReaderLanguage } from '@oiseau/messages';
import { formatClock, secondsToTicks, ticksToSeconds, type Ticks } from '@oiseau/audio/time';
import type { Paper, PaperText } from './paper.js';

/** A track of a side as a cutting room is told of it; times from the start of the side’s file. */
export interface CuttingTrack {
  /** “A1”. */
  readonly position: string;
  readonly title: string;
  readonly start: Ticks;
  /** Of its audio. */
  readonly length: Ticks;
  /** Silence before it; negative for an overlap. */
  readonly gap: Ticks;
  /** 12 characters; empty when there is none. */
  readonly isrc: string;
  readonly remarks: readonly Message[];
}

export interface CuttingSide {
  /** “A”. */
  readonly label: string;
  /** “7 in, 45”. */
  readonly medium: Message;
  /** Its file, in the deliverable’s folder. */
  readonly path: string;
  readonly length: Ticks;
  readonly tracks: readonly CuttingTrack[];
  readonly remarks: readonly Message[];
}

/** What a cutting room gets beside the audio. */
export interface CuttingOrder {
  readonly title: string;
  readonly performer: string;
  readonly label: string;
  readonly catalogNumber: string;
  readonly sides: readonly CuttingSide[];
}

/** What was measured of a track in the file of its side; null where nothing sounds. */
export interface CuttingFigures {
  readonly truePeakDbtp: number | null;
  /** The end of the three seconds that are loudest, in seconds from the start of the side. */
  readonly loudestAt: number | null;
  readonly loudestLufs: number | null;
}

const HEAD = [
  'position',
  'title',
  'start',
  'length',
  'gap',
  'peak',
  'loudest',
  'loudest at',
  'isrc',
  'remarks',
];

/** Columns between title and code: times, gap, peak, loudness. */
const FIGURES = HEAD.indexOf('isrc') - 2;

const decimals = (value: number | null, places: number): string =>
  value === null ? '' : value.toFixed(places);
const clock = (time: Ticks): string => formatClock(time, 1);
const at = (seconds: number | null): string => (seconds === null ? '' : clock(secondsToTicks(seconds)));

/** The rows of the sheet, a line of names first. Times as minutes and seconds, gaps in seconds, peak in dBTP, loudest three seconds in LUFS. @param figures of each side, of each track */
export function cuttingRows(
  { sides }: CuttingOrder,
  figures: readonly (readonly CuttingFigures[])[],
): readonly (readonly string[])[] {
  const rows = sides.flatMap(({ tracks }, side) =>
    tracks.map((track, i) => {
      const { truePeakDbtp = null, loudestAt = null, loudestLufs = null } = figures[side]?.[i] ?? {};
      return [
        ...[
          track.position,
          track.title,
          clock(track.start),
          clock(track.length),
          ticksToSeconds(track.gap).toFixed(2),
        ],
        ...[decimals(truePeakDbtp, 1), decimals(loudestLufs, 1), at(loudestAt)],
        ...[track.isrc, track.remarks.map(english).join('; ')],
      ];
    }),
  );
  return [HEAD, ...rows];
}

/** The same for print. The code has no place there: it is none of a lathe's matters. */
export function cuttingPaper(
  order: CuttingOrder,
  figures: readonly (readonly CuttingFigures[])[],
  language: ReaderLanguage = 'en',
): Paper {
  const [, ...rows] = cuttingRows(order, figures);
  const remarks = order.sides.flatMap(({ tracks }) => tracks.map((track) => track.remarks));
  return {
    ...{ language, title: order.title, author: order.performer, kind: msg('Cutting sheet') },
    facts: [
      [msg('Label'), order.label],
      [msg('Catalogue number'), order.catalogNumber],
      ...order.sides.map(
        ({ label, medium, path, length }) =>
          [msg('Side {label}', { label }), joined([clock(length), medium, path])] as const,
      ),
    ],
    columns: [
      { name: msg('No.'), share: 6, isNumber: false },
      { name: msg('Title'), share: 25, isNumber: false },
      { name: msg('Start'), share: 9, isNumber: true },
      { name: msg('Length'), share: 9, isNumber: true },
      { name: msg('Gap, s'), share: 7, isNumber: true },
      { name: msg('Peak, dBTP'), share: 7, isNumber: true },
      { name: msg('Loudest, LUFS'), share: 8, isNumber: true },
      { name: msg('at'), share: 8, isNumber: true },
      { name: msg('Remarks'), share: 21, isNumber: false },
    ],
    rows: rows.map(([position = '', title = '', ...cells], i) => ({
      cells: [
        ...[position, title],
        ...cells.slice(0, FIGURES).map((cell): PaperText => figure(cell)),
        joined(remarks[i] ?? [], '; '),
      ],
    })),
    notes: [
      msg(
        'Times are relative to the start of each side’s file. The loudest passage is given by the end of its three seconds.',
      ),
      ...order.sides.flatMap((side) =>
        side.remarks.map((remark) => msg('Side {label}: {remark}', { label: side.label, remark })),
      ),
    ],
  };
}
