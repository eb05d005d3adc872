import { figure, msg } from '@oiseau/messages';
import { ditherOf, type CueDeliverable, type DdpDeliverable } from '@oiseau/album/model';
import type { DiscPart } from '@oiseau/album/layout';
import { framesToTicks, type Frames } from '@oiseau/audio/time';
import { plannedAudio, type PlannedAudio } from '../planned.js';

/** How an image keeps its audio, in words. */
export const IMAGE_FORM = msg('16 bit, {rate}', { rate: figure('44.1 kHz') });

/** The audio of an image: 44.1 kHz, 16 bit, from some frame on to the lead-out. */
export const imageAudio = (
  { number, disc, songs }: DiscPart,
  path: string,
  coding: 'wav' | 'raw',
  deliverable: CueDeliverable | DdpDeliverable,
  from: Frames,
): PlannedAudio =>
  plannedAudio({
    path,
    part: number,
    alternate: deliverable.alternate,
    coding,
    rate: 44_100,
    format: 'int16',
    dither: ditherOf(deliverable),
    bitrate: null,
    quality: null,
    stretch: { start: framesToTicks(from), end: framesToTicks(disc.leadOut) },
    ...{ tags: {}, id3: 2.3, loudness: false, made: '' },
    upc: '',
    marks: [],
    silent: songs.length === 0,
  });
