import { msg } from '@oiseau/messages';
import {
  cuttingRoomDeliverable,
  type CuttingRoomDeliverable,
  cutsWell,
  mediumWords,
  positionOf,
} from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { type CuttingSide, parseIsrc } from '@oiseau/formats/disc';
import { formatClock, ticks } from '@oiseau/audio/time';
import { partTags } from '@oiseau/formats/tags';
import { plannedAudio, type PlannedFile } from '../planned.js';
import { isSilent } from './chosen-sound.js';
import { asRecording, type Kind } from './kind.js';

/** What a cutting room takes: a 24-bit file for each side at the album’s highest rate, and a sheet with what was measured of it. */
export const cuttingRoomKind: Kind<CuttingRoomDeliverable> = {
  settings: cuttingRoomDeliverable,
  plan: (deliverable, masters) => {
    const { album, parts, masters: known, revisionDate } = asRecording(masters, deliverable.alternate);
    const sides = parts.filter(({ kind, songs }) => kind === 'side' && songs.length > 0);
    if (sides.length === 0) return [];
    const rate = Math.max(44_100, ...album.songs.map(({ region }) => known.get(region.master)?.rate ?? 0));
    const files = sides.map((part): PlannedFile => {
      const stretch = { start: ticks(0), end: part.placement.end };
      return plannedAudio({
        ...{ path: pathOf(part), part: part.number, alternate: deliverable.alternate },
        ...{ coding: 'wav', rate, format: 'int24', dither: 'none', bitrate: null, quality: null },
        ...{ stretch, tags: partTags(album, part, { upc: '' }), upc: '', marks: [] },
        ...{ id3: 2.3, loudness: false, made: revisionDate },
        silent: isSilent(part, stretch),
      });
    });
    const { title, performer, label, catalogNumber } = album;
    const { language = 'en' } = deliverable;
    const order = { title, performer, label, catalogNumber, sides: sides.map(sideOf) };
    return [
      ...files,
      { kind: 'cutting-sheet', form: 'csv', path: 'cutting-sheet.csv', order, language },
      { kind: 'cutting-sheet', form: 'pdf', path: 'cutting-sheet.pdf', order, language },
    ];
  },
  words: () => msg('Cutting room: sides with sheet'),
  form: () => msg('24 bit, highest sample rate of the masters'),
};

const pathOf = ({ name }: Part): string => `${name}.wav`;

function sideOf(part: Part): CuttingSide {
  const { placement, medium, label } = part;
  const length = placement.end;
  const well = cutsWell(medium);
  let end = ticks(0);
  return {
    ...{ label, medium: mediumWords(medium), path: pathOf(part), length },
    remarks:
      length > well
        ? [
            msg('it lasts {length}; {most} cut well.', {
              length: formatClock(length),
              most: formatClock(well),
            }),
          ]
        : [],
    tracks: part.tracks.flatMap(({ id, title, isrc }, i) => {
      const placed = placement.songs.get(id);
      if (!placed) return [];
      const gap = ticks(placed.start - end);
      ({ end } = placed);
      const next = placement.songs.get(part.tracks[i + 1]?.id ?? '');
      return {
        ...{
          position: positionOf(part, i + 1),
          title,
          start: placed.start,
          gap,
          isrc: parseIsrc(isrc) ?? '',
        },
        length: ticks(placed.end - placed.start),
        remarks: next && next.start <= placed.end ? [msg('runs into the next track')] : [],
      };
    }),
  };
}
