import { english, figure, msg, type Figure, type Message, type ReaderLanguage } from '@oiseau/messages';
import { type Album, partName } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import {
  nameOfSound,
  soundOfSequence,
  type MeasuredSound,
  type SoundFigures,
  type SoundFiguresByName,
} from '@oiseau/album/measured';
import { untreated } from '@oiseau/album/edits';
import { isUntreated } from '@oiseau/audio/stages';
import type { Measurement } from '@oiseau/audio/measure';
import { formatClock, ticks, type Ticks } from '@oiseau/audio/time';
import { placeOf } from './label-copy.js';
import type { Paper } from '../disc/paper.js';

/** What a loudness report tells of a stretch [EBU R 128, EBU Tech 3341, 3342]. */
type Figures = Pick<
  Measurement,
  'integratedLufs' | 'loudnessRangeLu' | 'maxMomentaryLufs' | 'maxShortTermLufs' | 'truePeakDbtp'
>;
const FIGURES = [
  'integratedLufs',
  'loudnessRangeLu',
  'maxMomentaryLufs',
  'maxShortTermLufs',
  'truePeakDbtp',
] as const satisfies readonly (keyof Figures)[];
const NAMES = [
  msg('Integrated, LUFS'),
  msg('Range, LU'),
  msg('Momentary, LUFS'),
  msg('Short-term, LUFS'),
  msg('Peak, dBTP'),
];

/** What is told of: everything but the figures. */
export interface LoudnessOrder {
  readonly title: string;
  readonly performer: string;
  readonly facts: readonly (readonly [name: Message, value: string])[];
  readonly parts: readonly {
    readonly number: number;
    /** Such as “Side A as a whole”. */
    readonly whole: Message;
    readonly length: Ticks;
    /** Whether anything is done to the sound of the part or of one of its songs. */
    readonly treated: boolean;
    readonly tracks: readonly {
      readonly id: string;
      readonly position: string;
      readonly title: string;
      readonly length: Ticks;
    }[];
  }[];
}

/** Figures of a part and its songs: as they are heard, and as they came in where something is done to them (else null). */
export interface PartLoudness {
  readonly heard: SoundFigures;
  readonly came: SoundFigures | null;
}

/** Whether anything is done to the sound of a part or of one of its songs. */
const isTreated = ({ sequence }: Pick<Part, 'sequence'>): boolean =>
  !isUntreated(sequence.sound) || sequence.songs.some(({ region }) => !isUntreated(region.sound));

/** What must be measured of a part: as it is heard, and as it came in where something is done to it. */
const soundsOfPart = (
  part: Pick<Part, 'sequence'>,
): { heard: MeasuredSound; came: MeasuredSound | null } => ({
  heard: soundOfSequence(part.sequence),
  came: isTreated(part) ? soundOfSequence(untreated(part.sequence)) : null,
});

/** All that must be measured for a report. */
export const loudnessQuestions = (parts: readonly Pick<Part, 'sequence'>[]): MeasuredSound[] =>
  parts.flatMap((part) => {
    const { heard, came } = soundsOfPart(part);
    return came ? [heard, came] : [heard];
  });

/** The figures of each part out of what was measured; null while some are not known. */
export function loudnessFigures(
  parts: readonly Pick<Part, 'sequence'>[],
  figures: SoundFiguresByName,
): PartLoudness[] | null {
  const all = parts.map((part) => {
    const { heard, came } = soundsOfPart(part);
    const [now, before] = [figures.get(nameOfSound(heard)), came && figures.get(nameOfSound(came))];
    return now && before !== undefined ? { heard: now, came: before } : null;
  });
  return all.every((each) => each !== null) ? all : null;
}

/** @param parts the album laid out */
export const loudnessOrder = (album: Album, parts: readonly Part[]): LoudnessOrder => ({
  ...{ title: album.title, performer: album.performer },
  facts: [
    [msg('Label'), album.label],
    [msg('Catalogue number'), album.catalogNumber],
  ],
  parts: parts.map((part) => ({
    ...{
      number: part.number,
      whole: part.of === 1 ? msg('The album as a whole') : msg('{part} as a whole', { part: partName(part) }),
      length: part.placement.end,
    },
    treated: isTreated(part),
    tracks: part.tracks.map(({ id, title }, i) => {
      const placed = part.placement.songs.get(id);
      const length = ticks(placed ? placed.end - placed.start : 0);
      return { id, position: placeOf(part, i + 1), title, length };
    }),
  })),
});

/** With one decimal, and a plain minus sign: machines read it too. Empty where silence has no figure. */
const cells = (figures: Figures | undefined): string[] =>
  FIGURES.map((name) => figures?.[name]?.toFixed(1) ?? '');

interface Line {
  readonly head: readonly [position: string, title: string | Message, length: string];
  readonly heard: readonly string[];
  /** Empty where nothing is done to the sound. */
  readonly came: readonly string[];
  readonly isPart: boolean;
}

/** @param figures of each part, in the order of the parts */
function lines({ parts }: LoudnessOrder, figures: readonly PartLoudness[]): Line[] {
  return parts.flatMap(({ whole, length, tracks }, i) => {
    const { heard, came } = figures[i] ?? {};
    const all = (of: SoundFigures | null | undefined, id: string | null): string[] =>
      of ? cells(id === null ? of.measurement : of.songs[id]) : [];
    return [
      ...tracks.map(({ id, position, title, length: own }) => ({
        head: [position, title, formatClock(own, 1)] as const,
        ...{ heard: all(heard, id), came: all(came, id), isPart: false },
      })),
      {
        head: ['', whole, formatClock(length, 1)] as const,
        ...{ heard: all(heard, null), came: all(came, null), isPart: true },
      },
    ];
  });
}

/** The report as a table, a line of names first; `before` is empty where nothing is done to the sound. @param figures of each part */
export function loudnessRows(
  order: LoudnessOrder,
  figures: readonly PartLoudness[],
): readonly (readonly string[])[] {
  const names = NAMES.map(english);
  return [
    ['position', 'title', 'length', ...names, ...names.map((name) => `${name}, before`)],
    ...lines(order, figures).map(({ head, heard, came }) => [
      ...head.map((cell) => (typeof cell === 'string' ? cell : english(cell))),
      ...heard,
      ...(came.length > 0 ? came : names.map(() => '')),
    ]),
  ];
}

/** The report for print: a figure from before the treatment stands in brackets below the one that is heard. */
export function loudnessPaper(
  order: LoudnessOrder,
  figures: readonly PartLoudness[],
  language: ReaderLanguage = 'en',
): Paper {
  const shown = (cell: string): Figure => figure(cell.replaceAll('-', '−'));
  return {
    ...{ language, title: order.title, author: order.performer },
    ...{ kind: msg('Loudness report'), facts: order.facts },
    columns: [
      { name: msg('No.'), share: 7, isNumber: false },
      { name: msg('Title'), share: 31, isNumber: false },
      { name: msg('Length'), share: 10, isNumber: true },
      ...[12, 10, 11, 10, 9].map((share, i) => ({ name: NAMES[i] ?? '', share, isNumber: true })),
    ],
    rows: lines(order, figures).map(({ head, heard, came, isPart }) => ({
      cells: [...head, ...heard.map((cell, i) => shown(came[i] ? `${cell}\n(${came[i]})` : cell))],
      isStrong: isPart,
    })),
    notes: [
      msg(
        'Loudness according to ITU-R BS.1770 and EBU R 128, measured at 44.1 kHz over each track; momentary and short-term are maximum values.',
      ),
      ...(order.parts.some(({ treated }) => treated)
        ? [msg('In brackets: before treatment, with gain and fades.')]
        : []),
    ],
  };
}
