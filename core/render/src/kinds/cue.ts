import { msg } from '@oiseau/messages';
import { type Album, cueDeliverable, type CueDeliverable } from '@oiseau/album/model';
import { isDisc, type DiscPart } from '@oiseau/album/layout';
import { type CueSheet, marksInOrder } from '@oiseau/formats/disc';
import { FIRST_PAUSE_FRAMES, frames } from '@oiseau/audio/time';
import type { PlannedFile } from '../planned.js';
import { IMAGE_FORM, imageAudio } from './image-audio.js';
import { asRecording, partFolder, type Kind } from './kind.js';
import { sheetOf } from './sheet.js';

/** A disc image with a cue sheet, one for each disc. */
export const cueKind: Kind<CueDeliverable> = {
  settings: cueDeliverable,
  plan: (deliverable, masters) => {
    const { album, parts } = asRecording(masters, deliverable.alternate);
    return parts.filter(isDisc).flatMap((part): PlannedFile[] => {
      const folder = partFolder(part);
      const name = deliverable.audio === 'wav' ? 'image.wav' : 'image.bin';
      const coding = deliverable.audio === 'wav' ? 'wav' : 'raw';
      return [
        imageAudio(part, `${folder}${name}`, coding, deliverable, FIRST_PAUSE_FRAMES),
        {
          kind: 'cue-sheet',
          path: `${folder}image.cue`,
          cue: imageSheet(album, part, name, deliverable.audio),
        },
      ];
    });
  },
  words: () => msg('Disc image with a cue sheet'),
  form: () => IMAGE_FORM,
};

/**
 * The cue sheet of an image that begins two seconds into the disc: what the first pause has beyond them is
 * index 00 of track 1 (docs/rules.md 9.1).
 */
function imageSheet(album: Album, part: DiscPart, file: string, audio: 'wav' | 'bin'): CueSheet {
  const all = marksInOrder(part.disc);
  const marks = all.map(({ track, index, frames: at }) => ({
    track,
    index,
    frames: frames(at - FIRST_PAUSE_FRAMES),
  }));
  const longPause = (all[0]?.frames ?? 0) > FIRST_PAUSE_FRAMES;
  return sheetOf(
    album,
    part,
    file,
    audio === 'wav' ? 'WAVE' : 'BINARY',
    longPause ? [{ track: 1, index: 0, frames: frames(0) }, ...marks] : marks,
  );
}
