import type { Album } from '../album/album.js';
import { ditherOf, type CueDeliverable, type DdpDeliverable } from '../album/deliverable.js';
import type { Layout } from '../album/sequence.js';
import { cdTextBlocks } from '../disc/cd-text.js';
import { plainText } from '../disc/cd-text-charset.js';
import { packCount } from '../disc/cd-text-packs.js';
import type { CueSheet } from '../disc/cue-sheet.js';
import { DDP_IMAGE, type DdpDisc } from '../disc/ddp.js';
import { parseEan } from '../disc/ean.js';
import { parseIsrc } from '../disc/isrc.js';
import { discMarks } from '../disc/marks.js';
import { FIRST_PAUSE_FRAMES, frames, framesToTicks } from '../time/frames.js';
import type { Frames } from '../time/ticks.js';
import { planned, type Plan, type PlannedAudio } from './planned.js';

/** The audio of an image: 44.1 kHz, 16 bit, from some frame on to the lead-out. */
const imageAudio = (
  layout: Layout,
  path: string,
  coding: 'wav' | 'raw',
  deliverable: CueDeliverable | DdpDeliverable,
  from: Frames,
): PlannedAudio =>
  planned({
    path,
    coding,
    rate: 44_100,
    format: 'int16',
    dither: ditherOf(deliverable),
    bitrate: null,
    quality: null,
    start: framesToTicks(from),
    end: framesToTicks(layout.leadOut),
    tags: {},
    upc: '',
    marks: [],
    silent: layout.tracks.length === 0,
  });

export function planCue(album: Album, layout: Layout, deliverable: CueDeliverable): Plan {
  const path = deliverable.audio === 'wav' ? 'image.wav' : 'image.bin';
  const coding = deliverable.audio === 'wav' ? 'wav' : 'raw';
  return {
    deliverable,
    audio: [imageAudio(layout, path, coding, deliverable, FIRST_PAUSE_FRAMES)],
    sheet: { path: 'image.cue', cue: cueSheetOf(album, layout, path, deliverable.audio) },
    ddp: null,
  };
}

/** A disc description holds the first pause as well (trade.md 8). */
export function planDdp(album: Album, layout: Layout, deliverable: DdpDeliverable): Plan {
  return {
    deliverable,
    audio: [imageAudio(layout, DDP_IMAGE, 'raw', deliverable, frames(0))],
    sheet: null,
    ddp: ddpDisc(album, layout),
  };
}

/** The master id of a disc description: the catalogue number, or else the title, in plain letters (trade.md 8). */
function masterId(album: Album): string {
  const plain = plainText(album.catalogNumber || album.title, 'ascii');
  return plain
    .replace(/[^\x20-\x7e]/g, ' ')
    .slice(0, 48)
    .trim();
}

function ddpDisc(album: Album, layout: Layout): DdpDisc {
  const control = (track: number): number => {
    const { preEmphasis, copyPermitted } = album.tracks[track - 1] ?? {};
    return (preEmphasis ? 1 : 0) + (copyPermitted ? 2 : 0);
  };
  const isrc = (track: number): string => parseIsrc(album.tracks[track - 1]?.isrc ?? '') ?? '';
  const marks = [{ track: 1, index: 0, frames: frames(0) }, ...discMarks(layout)];
  return {
    upc: parseEan(album.upc) ?? '',
    masterId: masterId(album),
    marks: marks.map((mark) => ({ ...mark, control: control(mark.track), isrc: isrc(mark.track) })),
    leadOut: layout.leadOut,
    cdText: cdTextBlocks(album).filter((block) => packCount(block) > 0),
  };
}

/**
 * The cue sheet of an image that begins two seconds into the disc: what the first pause has beyond them is
 * index 00 of track 1 (trade.md 9).
 */
function cueSheetOf(album: Album, layout: Layout, file: string, audio: 'wav' | 'bin'): CueSheet {
  const marks = discMarks(layout).map((mark) => ({
    ...mark,
    frames: frames(mark.frames - FIRST_PAUSE_FRAMES),
  }));
  const longPause = (layout.tracks[0]?.startMark ?? 0) > FIRST_PAUSE_FRAMES;
  return sheetOf(
    album,
    file,
    audio === 'wav' ? 'WAVE' : 'BINARY',
    longPause ? [{ track: 1, index: 0, frames: frames(0) }, ...marks] : marks,
  );
}

/** A cue sheet with the words and codes of the tracks that have marks in it; times count from the start of the file. */
export function sheetOf(
  album: Album,
  file: string,
  audio: CueSheet['audio'],
  marks: readonly { readonly track: number; readonly index: number; readonly frames: Frames }[],
): CueSheet {
  return {
    catalog: parseEan(album.upc) ?? '',
    title: album.title,
    performer: album.performer,
    songwriter: album.songwriter,
    file,
    audio,
    tracks: album.tracks.flatMap((track, i) => {
      const indexes = marks.filter((mark) => mark.track === i + 1);
      if (indexes.length === 0) return [];
      return {
        title: track.title,
        performer: track.performer || album.performer,
        songwriter: track.songwriter || album.songwriter,
        isrc: parseIsrc(track.isrc) ?? '',
        copyPermitted: track.copyPermitted,
        preEmphasis: track.preEmphasis,
        indexes: indexes.map(({ index, frames: at }) => ({ index, frames: at })),
      };
    }),
  };
}
