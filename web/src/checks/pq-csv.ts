import { english } from '@oiseau/messages';
import { encodeCsv, flagsOf, type PqSheet } from '@oiseau/formats/disc';
import { formatMsf } from '@oiseau/audio/time';

const two = (index: number): string => String(index).padStart(2, '0');

/** A row for each mark; times as MM:SS:FF. No cell is taken for a formula by a spreadsheet. */
export function pqCsv({ tracks, leadOut }: PqSheet): string {
  const rows = tracks.flatMap((track) => [
    ...(track.pause === null
      ? []
      : [[track.number, '00', formatMsf(track.pause), formatMsf(track.pauseLength), '', '', '', '']]),
    [
      track.number,
      '01',
      formatMsf(track.start),
      formatMsf(track.length),
      track.title,
      track.performer,
      track.isrc,
      english(flagsOf(track)),
    ],
    ...track.indexes.map((at, i) => [track.number, two(i + 2), formatMsf(at), '', '', '', '', '']),
  ]);
  const head = ['Track', 'Index', 'Start', 'Length', 'Title', 'Performer', 'ISRC', 'Flags'];
  const all = [head, ...rows, ['AA', '01', formatMsf(leadOut), '', 'lead-out', '', '', '']];
  const text = new TextDecoder().decode(encodeCsv(all.map((cells) => cells.map(String))));
  return `\uFEFF${text}`;
}
