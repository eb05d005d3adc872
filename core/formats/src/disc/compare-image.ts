import { type Album, CD_TEXT_FIELDS, type CdTextField } from '@oiseau/album/model';
import type { DiscMarks, DiscPart } from '@oiseau/album/layout';
import { formatMsf, FRAMES_PER_SECOND } from '@oiseau/audio/time';
import { cdTextBlocks } from './cd-text.js';
import type { DiscImage } from './disc-image.js';
import { parseEan } from './ean.js';
import { parseIsrc } from './isrc.js';
import { marksInOrder, type Mark } from './marks.js';

/** Words that a cue sheet has a place for. */
const CUE_FIELDS: readonly CdTextField[] = ['title', 'performer', 'songwriter'];

/**
 * How a disc image differs from what a disc of an album would give, in words: “track 2 starts 0.04 s later than it should”. Empty when every mark,
 * word, code and flag is the same.
 */
export function compareImage(album: Album, part: DiscPart, image: DiscImage): string[] {
  const tracks = part.tracks.length;
  if (image.tracks.length !== tracks)
    return [
      `the image has ${image.tracks.length} ${image.tracks.length === 1 ? 'track' : 'tracks'}, the album ${tracks}`,
    ];
  return [...markChanges(part.disc, image), ...wordChanges(album, part, image), ...codeChanges(part, image)];
}

function markChanges(disc: DiscMarks, { marks, leadOut }: DiscImage): string[] {
  const name = ({ track, index }: Mark): string =>
    index === 1
      ? `track ${track}`
      : index === 0
        ? `the pause of track ${track}`
        : `index ${index} of track ${track}`;
  const same = (a: Mark) => (b: Mark) => a.track === b.track && a.index === b.index;
  const wanted = marksInOrder(disc);
  // The pause of track 1 is every disc's own.
  const found = marks.filter(({ track, index }) => track > 1 || index > 0);
  const late = (by: number): string =>
    `${(Math.abs(by) / FRAMES_PER_SECOND).toFixed(2)} s too ${by > 0 ? 'late' : 'early'}`;
  return [
    ...wanted.flatMap((mark) => {
      const at = found.find(same(mark));
      if (!at) return [`${name(mark)} is missing`];
      return at.frames === mark.frames ? [] : [`${name(mark)} starts ${late(at.frames - mark.frames)}`];
    }),
    ...found.flatMap((mark) => (wanted.some(same(mark)) ? [] : [`${name(mark)} is unexpected`])),
    ...(leadOut === null || leadOut === disc.leadOut
      ? []
      : [`the disc ends at ${formatMsf(leadOut)} instead of ${formatMsf(disc.leadOut)}`]),
  ];
}

function wordChanges(album: Album, part: DiscPart, image: DiscImage): string[] {
  const texts = [image.text, ...image.tracks.map(({ text }) => text)];
  const [block] = cdTextBlocks(album, part);
  if (texts.every((text) => Object.keys(text).length === 0))
    return block && Object.keys(block.texts).length > 0 ? ['the image has no text'] : [];
  const wantedAt = (field: CdTextField, place: number): string => {
    if (image.kind === 'ddp') return block?.texts[field]?.[place] ?? '';
    const track = part.tracks[place - 1];
    const all = { ...album, title: part.title }[field];
    return track ? track[field] || (field === 'title' ? '' : all) : all;
  };
  const fields = image.kind === 'ddp' ? CD_TEXT_FIELDS : CUE_FIELDS;
  return texts.flatMap((text, place) =>
    fields.flatMap((field) => {
      const [wanted, found] = [wantedAt(field, place), text[field] ?? ''];
      const where = place === 0 ? 'album' : `track ${place}`;
      return wanted === found ? [] : [`${where}: ${field} “${found}” instead of “${wanted}”`];
    }),
  );
}

function codeChanges(part: DiscPart, { upc, tracks }: DiscImage): string[] {
  const differ = (where: string, name: string, found: string, wanted: string): string[] =>
    found === wanted ? [] : [`${where}: ${name} “${found}” instead of “${wanted}”`];
  return [
    ...differ('album', 'UPC/EAN', upc, parseEan(part.upc) ?? ''),
    ...tracks.flatMap((track, i) => {
      const of = part.tracks[i];
      if (!of) return [];
      const flags = (flagged: Pick<typeof of, 'copyPermitted' | 'preEmphasis'>): string =>
        [flagged.copyPermitted ? 'copy' : '', flagged.preEmphasis ? 'pre-emphasis' : '']
          .filter(Boolean)
          .join(', ');
      return [
        ...differ(`track ${i + 1}`, 'ISRC', track.isrc, parseIsrc(of.isrc) ?? ''),
        ...differ(`track ${i + 1}`, 'flags', flags(track), flags(of)),
      ];
    }),
  ];
}
