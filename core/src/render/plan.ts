import type { Album } from '../album/album.js';
import {
  ditherOf,
  type CueDeliverable,
  type Deliverable,
  type TracksDeliverable,
} from '../album/deliverable.js';
import { uniqueNames } from '../album/name-pattern.js';
import type { Layout } from '../album/sequence.js';
import { writeCueSheet, type CueSheet } from '../disc/cue-sheet.js';
import { parseEan } from '../disc/ean.js';
import { parseIsrc } from '../disc/isrc.js';
import { discMarks } from '../disc/marks.js';
import type { DitherKind } from '../dsp/dither.js';
import { WORD_BYTES, type PcmSource, type WordFormat } from '../pcm/block.js';
import { patternNames } from '../tags/file-names.js';
import { trackTags, type TagSet } from '../tags/tag-set.js';
import { FIRST_PAUSE_FRAMES, frames, framesToTicks } from '../time/frames.js';
import { ticks, ticksToSamples, type Ticks } from '../time/ticks.js';

/** One audio file that will be written: a stretch of the programme at one rate and word. */
export interface PlannedAudio {
  readonly path: string;
  readonly container: 'wav' | 'raw' | 'flac';
  readonly rate: number;
  readonly format: WordFormat;
  readonly dither: DitherKind;
  /** Absolute times, `[start, end)`. */
  readonly start: Ticks;
  readonly end: Ticks;
  /** Samples of one channel. */
  readonly length: number;
  /** Bytes of audio before any coding. */
  readonly pcmBytes: number;
  readonly tags: TagSet;
}

/** Everything a deliverable will consist of, known before a byte is written. */
export interface Plan {
  readonly deliverable: Deliverable;
  readonly audio: readonly PlannedAudio[];
  /** The cue sheet that goes with an image, and its file's name. */
  readonly sheet: { readonly path: string; readonly cue: CueSheet } | null;
}

/** @param masters a source (or its facts) for everything that sounds in the album, in order */
export function planDeliverable(
  album: Album,
  layout: Layout,
  masters: readonly Pick<PcmSource, 'rate'>[],
  deliverable: Deliverable,
  revision: number,
): Plan {
  switch (deliverable.kind) {
    case 'cue':
      return planCue(album, layout, deliverable);
    case 'tracks':
      return planTracks(album, layout, album.hidden ? masters.slice(1) : masters, deliverable, revision);
    default:
      return deliverable satisfies never;
  }
}

type Stretch = Omit<PlannedAudio, 'length' | 'pcmBytes'>;

function planned(stretch: Stretch): PlannedAudio {
  const length = ticksToSamples(stretch.end, stretch.rate) - ticksToSamples(stretch.start, stretch.rate);
  return { ...stretch, length, pcmBytes: length * 2 * WORD_BYTES[stretch.format] };
}

function planCue(album: Album, layout: Layout, deliverable: CueDeliverable): Plan {
  const path = deliverable.audio === 'wav' ? 'image.wav' : 'image.bin';
  const image = planned({
    path,
    container: deliverable.audio === 'wav' ? 'wav' : 'raw',
    rate: 44_100,
    format: 'int16',
    dither: ditherOf(deliverable),
    start: framesToTicks(FIRST_PAUSE_FRAMES),
    end: framesToTicks(layout.leadOut),
    tags: {},
  });
  return {
    deliverable,
    audio: [image],
    sheet: { path: 'image.cue', cue: cueSheetOf(album, layout, path, deliverable.audio) },
  };
}

/**
 * The cue sheet of an image that begins two seconds into the disc: what the first pause has beyond them is
 * index 00 of track 1 (trade.md 9).
 */
export function cueSheetOf(album: Album, layout: Layout, file: string, audio: 'wav' | 'bin'): CueSheet {
  const marks = discMarks(layout);
  const fromImage = (at: number): ReturnType<typeof frames> => frames(at - FIRST_PAUSE_FRAMES);
  return {
    catalog: parseEan(album.upc) ?? '',
    title: album.title,
    performer: album.performer,
    songwriter: album.songwriter,
    file,
    audio: audio === 'wav' ? 'WAVE' : 'BINARY',
    tracks: album.tracks.map((track, i) => {
      const indexes = marks
        .filter((mark) => mark.track === i + 1)
        .map(({ index, frames: at }) => ({ index, frames: fromImage(at) }));
      const longPause = i === 0 && (layout.tracks[0]?.startMark ?? 0) > FIRST_PAUSE_FRAMES;
      return {
        title: track.title,
        performer: track.performer || album.performer,
        songwriter: track.songwriter || album.songwriter,
        isrc: parseIsrc(track.isrc) ?? '',
        copyPermitted: track.copyPermitted,
        preEmphasis: track.preEmphasis,
        indexes: longPause ? [{ index: 0, frames: frames(0) }, ...indexes] : indexes,
      };
    }),
  };
}

/** The bytes of a planned cue sheet: UTF-8, CRLF. */
export function encodeSheet(cue: CueSheet): Uint8Array {
  return new TextEncoder().encode(writeCueSheet(cue));
}

/**
 * The stretch of each track's file (trade.md 3.8). Laid end to end, files with `append` or `prepend` are the programme
 * from the first start mark to the end of the last audio; `drop` leaves the gaps out.
 *
 *      |song 1 ~~~~~|  gap  |song 2 ~~~
 *      ^mark        ^pause  ^mark
 *      append:  [mark 1 ........ mark 2)
 *      prepend: [mark 1 ... pause 2)[pause 2 ...
 *      drop:    [mark 1 ... end of 1)       [mark 2 ...
 */
function trackStretches(layout: Layout, gaps: TracksDeliverable['gaps']): { start: Ticks; end: Ticks }[] {
  const cuts = layout.tracks.map(({ startMark, pause }, i) =>
    framesToTicks(gaps === 'prepend' && i > 0 && pause !== null ? pause : startMark),
  );
  return layout.tracks.map(({ audioEnd }, i) => {
    const start = cuts[i] ?? ticks(0);
    const next = cuts[i + 1] ?? layout.end;
    return { start, end: gaps === 'drop' ? ticks(Math.min(audioEnd, next)) : next };
  });
}

function planTracks(
  album: Album,
  layout: Layout,
  masters: readonly Pick<PcmSource, 'rate'>[],
  deliverable: TracksDeliverable,
  revision: number,
): Plan {
  const stretches = trackStretches(layout, deliverable.gaps);
  const upc = parseEan(album.upc) ?? '';
  const names = uniqueNames(patternNames(album, deliverable.pattern, revision));
  const audio = album.tracks.flatMap((track, i) => {
    const stretch = stretches[i];
    const master = masters[i];
    if (!stretch || !master || (deliverable.select && !deliverable.select.includes(i + 1))) return [];
    return planned({
      path: `${names[i] ?? i + 1}.${deliverable.format}`,
      container: deliverable.format,
      rate: deliverable.rate === 'source' ? master.rate : deliverable.rate,
      format: deliverable.bits === 'float' ? 'float32' : `int${deliverable.bits}`,
      dither: ditherOf(deliverable),
      ...stretch,
      tags: trackTags(album, i, { isrc: parseIsrc(track.isrc) ?? '', upc }),
    });
  });
  return { deliverable, audio, sheet: null };
}
