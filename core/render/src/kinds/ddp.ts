import { msg } from '@oiseau/messages';
import { type Album, ddpDeliverable, type DdpDeliverable } from '@oiseau/album/model';
import { isDisc, type DiscPart } from '@oiseau/album/layout';
import {
  cdTextBlocks,
  packCount,
  DDP_IMAGE,
  ddpNames,
  type DdpDisc,
  parseEan,
  parseIsrc,
  marksInOrder,
} from '@oiseau/formats/disc';
import { plainText } from '@oiseau/codings';
import { frames } from '@oiseau/audio/time';
import type { PlannedFile } from '../planned.js';
import { IMAGE_FORM, imageAudio } from './image-audio.js';
import { asRecording, partFolder, type Kind, type PlanContext } from './kind.js';

/** A disc description for a pressing plant, one for each disc; it holds the first pause as well (docs/rules.md 8). */
export const ddpKind: Kind<DdpDeliverable> = {
  settings: ddpDeliverable,
  plan: (deliverable, masters) => {
    const context = asRecording(masters, deliverable.alternate);
    return context.parts.filter(isDisc).flatMap((part) => planDisc(deliverable, context, part));
  },
  words: () => msg('Disc image for a plant (DDP)'),
  form: () => IMAGE_FORM,
};

function planDisc(deliverable: DdpDeliverable, { album }: PlanContext, part: DiscPart): PlannedFile[] {
  const folder = partFolder(part);
  const disc = describe(album, part);
  return [
    imageAudio(part, `${folder}${DDP_IMAGE}`, 'raw', deliverable, frames(0)),
    ...ddpNames(disc).map((name): PlannedFile => ({
      kind: 'description',
      path: `${folder}${name}`,
      folder,
      name,
      disc,
    })),
  ];
}

function describe(album: Album, part: DiscPart): DdpDisc {
  const control = (track: number): number => {
    const { preEmphasis, copyPermitted } = part.tracks[track - 1] ?? {};
    return (preEmphasis ? 1 : 0) + (copyPermitted ? 2 : 0);
  };
  const isrc = (track: number): string => parseIsrc(part.tracks[track - 1]?.isrc ?? '') ?? '';
  const marks = [{ track: 1, index: 0, frames: frames(0) }, ...marksInOrder(part.disc)];
  return {
    upc: parseEan(part.upc) ?? '',
    masterId: masterId(album, part),
    marks: marks.map((mark) => ({ ...mark, control: control(mark.track), isrc: isrc(mark.track) })),
    leadOut: part.disc.leadOut,
    cdText: cdTextBlocks(album, part).filter((block) => packCount(block) > 0),
  };
}

/** The master id of a disc description: the catalogue number, or else the title, in plain letters (docs/rules.md 8). */
function masterId(album: Album, part: DiscPart): string {
  const plain = plainText(album.catalogNumber || part.title, 'ascii');
  return plain
    .replace(/[^\x20-\x7e]/g, ' ')
    .slice(0, 48)
    .trim();
}
