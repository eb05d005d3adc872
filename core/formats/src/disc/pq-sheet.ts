import { english, joined, msg, type Message, type ReaderLanguage } from '@oiseau/messages';
import type { Album } from '@oiseau/album/model';
import type { DiscPart } from '@oiseau/album/layout';
import { formatMsf, frames, type Frames } from '@oiseau/audio/time';
import { parseEan } from './ean.js';
import { formatIsrc, parseIsrc } from './isrc.js';
import type { Paper } from './paper.js';

/** A track as people at a plant read it. All times in CD frames, absolute ones from the start of the first pause. */
export interface PqTrack {
  readonly number: number;
  readonly title: string;
  readonly performer: string;
  /** With hyphens; empty when there is none. */
  readonly isrc: string;
  /** Index 00; null where there is no pause. For track 1 the disc's start. */
  readonly pause: Frames | null;
  /** From the pause to the start mark. */
  readonly pauseLength: Frames;
  /** Index 01. */
  readonly start: Frames;
  /** From the start mark to the next pause, start mark or lead-out. */
  readonly length: Frames;
  /** Index 02 and up. */
  readonly indexes: readonly Frames[];
  readonly copyPermitted: boolean;
  readonly preEmphasis: boolean;
}

/** Everything on a PQ sheet: the marks of a disc, for people. */
export interface PqSheet {
  readonly title: string;
  readonly performer: string;
  readonly label: string;
  readonly catalogNumber: string;
  /** 13 digits; empty when there is none. */
  readonly upc: string;
  /** Which of a set’s discs; null where there is only one. */
  readonly disc: Message | null;
  readonly tracks: readonly PqTrack[];
  readonly leadOut: Frames;
  /** From the start mark of track 1 to the lead-out: what a player counts. */
  readonly playing: Frames;
}

export function pqSheet(album: Album, part: DiscPart): PqSheet {
  const { disc } = part;
  const marked = [...disc.tracks.values()];
  const tracks = part.tracks.flatMap((track, i): PqTrack[] => {
    const placed = marked[i];
    if (!placed) return [];
    const next = marked[i + 1];
    const end = next ? (next.pause ?? next.start) : disc.leadOut;
    const pause = i === 0 ? frames(0) : placed.pause;
    const isrc = parseIsrc(track.isrc);
    return [
      {
        number: i + 1,
        title: track.title,
        performer: track.performer || album.performer,
        isrc: isrc ? formatIsrc(isrc) : '',
        pause,
        pauseLength: frames(pause === null ? 0 : placed.start - pause),
        start: placed.start,
        length: frames(end - placed.start),
        indexes: placed.indexes,
        copyPermitted: track.copyPermitted,
        preEmphasis: track.preEmphasis,
      },
    ];
  });
  return {
    title: part.title,
    performer: album.performer,
    label: album.label,
    catalogNumber: album.catalogNumber,
    upc: parseEan(part.upc) ?? '',
    disc:
      part.discTotal > 1
        ? msg('{number} of {total}', { number: part.discNumber, total: part.discTotal })
        : null,
    tracks,
    leadOut: disc.leadOut,
    playing: frames(disc.leadOut - (marked[0]?.start ?? disc.leadOut)),
  };
}

/** The flags of a track; an empty text when there are none. */
export const flagsOf = ({ copyPermitted, preEmphasis }: PqTrack): Message =>
  joined([...(copyPermitted ? [msg('copy')] : []), ...(preEmphasis ? [msg('pre-emphasis')] : [])]);

const COLUMNS: Paper['columns'] = [
  { name: msg('Track'), share: 6, isNumber: true },
  { name: msg('Index'), share: 6, isNumber: true },
  { name: msg('Start'), share: 11, isNumber: true },
  { name: msg('Length'), share: 11, isNumber: true },
  { name: msg('Title and performer'), share: 42, isNumber: false },
  { name: msg('ISRC'), share: 16, isNumber: false },
  { name: msg('Flags'), share: 8, isNumber: false },
];

/** The sheet as fixed-width text, readable in any text viewer. */
export function pqText(sheet: PqSheet): string {
  const two = (index: number): string => String(index).padStart(2, '0');
  const line = (track: string, index: string, at: string, length: string, rest: string): string =>
    `${track.padEnd(5)} ${index.padEnd(5)} ${at.padEnd(8)}  ${length.padEnd(8)}  ${rest}`.trimEnd();
  const facts = [
    ['Title', sheet.title],
    ['Performer', sheet.performer],
    ['UPC/EAN', sheet.upc],
    ['Label', sheet.label],
    ['Catalogue number', sheet.catalogNumber],
    ['Disc', sheet.disc ? english(sheet.disc) : ''],
    ['Playing time', formatMsf(sheet.playing)],
  ];
  return [
    'PQ SHEET',
    ...facts
      .filter(([, value]) => value !== '')
      .map(([name = '', value = '']) => `${name.padEnd(18)}${value}`),
    '',
    line('TRACK', 'INDEX', 'AT', 'LASTS', 'ISRC          TITLE'),
    ...sheet.tracks.flatMap((track) => [
      ...(track.pause === null
        ? []
        : [line(two(track.number), '00', formatMsf(track.pause), formatMsf(track.pauseLength), 'pause')]),
      line(
        ...([two(track.number), '01', formatMsf(track.start), formatMsf(track.length)] as const),
        `${track.isrc.padEnd(15)} ${titleAndFlags(track)}`,
      ),
      ...track.indexes.map((at, i) => line(two(track.number), two(i + 2), formatMsf(at), '', '')),
    ]),
    line('AA', '01', formatMsf(sheet.leadOut), '', 'lead-out'),
    '',
  ].join('\r\n');
}

function titleAndFlags(track: PqTrack): string {
  const flags = english(flagsOf(track));
  return (track.title || 'Untitled') + (flags && ` (${flags})`);
}

/**
 * The sheet for print.
 * @param accepted findings that were accepted, a sentence each
 * @param made day on which it was made, in the language of the sheet; empty: not stated
 */
export function pqPaper(
  sheet: PqSheet,
  accepted: readonly Message[],
  made: string,
  language: ReaderLanguage = 'en',
): Paper {
  const two = (index: number): string => String(index).padStart(2, '0');
  return {
    ...{ language, title: sheet.title, author: sheet.performer, kind: msg('PQ sheet'), columns: COLUMNS },
    facts: [
      [msg('UPC/EAN'), sheet.upc],
      [msg('Label'), sheet.label],
      [msg('Catalogue number'), sheet.catalogNumber],
      [msg('Disc'), sheet.disc ?? ''],
      [msg('Tracks'), String(sheet.tracks.length)],
      [msg('Playing time'), formatMsf(sheet.playing)],
      [msg('Lead-out'), formatMsf(sheet.leadOut)],
      [msg('Made on'), made],
    ],
    rows: [
      ...sheet.tracks.flatMap((track) => [
        ...(track.pause === null
          ? []
          : [
              {
                cells: ['', '00', formatMsf(track.pause), formatMsf(track.pauseLength), msg('pause'), '', ''],
              },
            ]),
        {
          cells: [
            ...[String(track.number), '01', formatMsf(track.start), formatMsf(track.length)],
            joined([track.title || msg('Untitled'), ...(track.performer ? [track.performer] : [])], ' · '),
            ...[track.isrc, flagsOf(track)],
          ],
          isStrong: true,
        },
        ...track.indexes.map((at, i) => ({ cells: ['', two(i + 2), formatMsf(at), '', '', '', ''] })),
      ]),
      { cells: ['', '', formatMsf(sheet.leadOut), '', msg('lead-out'), '', ''], isStrong: true },
    ],
    notes: accepted.length > 0 ? [msg('Accepted:'), ...accepted] : [],
  };
}
