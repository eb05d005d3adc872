import { factsOf, type AudioFile, type FileCoding } from '@oiseau/codings';
import type { Deliverable } from '@oiseau/album/model';
import type { ReaderLanguage } from '@oiseau/messages';
import type { CueSheet, DdpDisc, DdpName, CuttingOrder, Paper, SideSheetRow } from '@oiseau/formats/disc';
import type { LoudnessOrder, ListeningPage, Release, PlaylistEntry } from '@oiseau/formats/papers';
import { WORD_BYTES } from '@oiseau/audio/pcm';
import { type Interval, samples, ticksToSamples, type Samples, type Ticks } from '@oiseau/audio/time';

/** One audio file that will be written: a stretch of a part's programme at one rate and bit depth. */
export interface PlannedAudio extends AudioFile {
  readonly kind: 'audio';
  readonly coding: FileCoding;
  /** The number of the part whose programme it is cut from. */
  readonly part: number;
  /** The recording: `MAIN`, or the name of an alternate. */
  readonly alternate: string;
  /** In time of the part. */
  readonly stretch: Interval<Ticks>;
  readonly length: Samples;
  /** Bytes of audio before any coding. */
  readonly pcmBytes: number;
  /** Its loudness and the album’s go into the tags; they are measured before anything is written. */
  readonly loudness: boolean;
  /** Nothing of the album sounds in it. */
  readonly silent: boolean;
}

/** The files of tracks in order, for players [M3U8: UTF-8]. */
export interface PlannedPlaylist {
  readonly kind: 'playlist';
  readonly path: string;
  readonly entries: readonly PlaylistEntry[];
}

/** The cue sheet that goes with an image or a continuous file. */
export interface PlannedCueSheet {
  readonly kind: 'cue-sheet';
  readonly path: string;
  readonly cue: CueSheet;
}

/** One of the files that describe an image to a pressing plant. */
export interface PlannedDescription {
  readonly kind: 'description';
  readonly path: string;
  /** Empty, or the part's own folder with `/` behind it. */
  readonly folder: string;
  readonly name: DdpName;
  readonly disc: DdpDisc;
}

/** What a cutting room is told of the sides. */
export interface PlannedSideSheet {
  readonly kind: 'side-sheet';
  readonly path: string;
  readonly rows: readonly SideSheetRow[];
}

/** The same with what was measured, for machines and for print. */
export interface PlannedCuttingSheet {
  readonly kind: 'cutting-sheet';
  readonly form: 'csv' | 'pdf';
  readonly path: string;
  readonly order: CuttingOrder;
  readonly language: ReaderLanguage;
}

/** SHA-256 sums of other files of the deliverable, a line each. */
export interface PlannedSums {
  readonly kind: 'sums';
  readonly path: string;
  /** Planned before it, with `/` between folders. */
  readonly of: readonly string[];
  /** `plain`: as `sha256sum` reads it; `bag`: a manifest [RFC 8493 2.1.3]. */
  readonly form: 'plain' | 'bag';
}

/** A sheet that is known before anything is rendered. */
export interface PlannedSheet {
  readonly kind: 'sheet';
  readonly form: 'csv' | 'pdf';
  readonly path: string;
  /** For machines, a line of names first. */
  readonly rows: readonly (readonly string[])[];
  /** For print. */
  readonly paper: Paper;
}

/** The loudness of all tracks and parts, measured in the programme. */
export interface PlannedLoudness {
  readonly kind: 'loudness';
  readonly form: 'csv' | 'pdf';
  readonly path: string;
  readonly order: LoudnessOrder;
  readonly language: ReaderLanguage;
}

/** What a shop is told of a release. */
export interface PlannedRelease {
  readonly kind: 'release';
  readonly path: string;
  readonly release: Release;
}

/** The page of a folder to listen to. */
export interface PlannedListeningPage {
  readonly kind: 'listening-page';
  readonly path: string;
  readonly page: ListeningPage;
}

/** The cover as shops take it. */
export interface PlannedCover {
  readonly kind: 'cover';
  readonly path: string;
  readonly form: 'jpeg' | 'png';
}

/** What a bag says of itself. */
export interface PlannedBagFile {
  readonly kind: 'bag';
  readonly path: 'bagit.txt' | 'bag-info.txt';
  /** Files of its payload. */
  readonly payload: readonly string[];
  /** Labels of `bag-info.txt`. */
  readonly info: readonly (readonly [label: string, value: string])[];
}

/** A file that a deliverable will consist of. How each kind is written, proved and worded stands in `files/`. */
export type PlannedFile =
  | PlannedAudio
  | PlannedCueSheet
  | PlannedDescription
  | PlannedSideSheet
  | PlannedCuttingSheet
  | PlannedSheet
  | PlannedLoudness
  | PlannedRelease
  | PlannedCover
  | PlannedListeningPage
  | PlannedBagFile
  | PlannedPlaylist
  | PlannedSums;

/** Everything a deliverable will consist of but its proof, known before a byte is written, in the order in which it is written. */
export interface Plan {
  readonly deliverable: Deliverable;
  readonly files: readonly PlannedFile[];
}

export const audioFiles = ({ files }: Plan): PlannedAudio[] => files.filter((file) => file.kind === 'audio');

/** Planned audio but for what follows from the stretch and the words. */
export type AudioOrder = Omit<PlannedAudio, 'kind' | 'length' | 'pcmBytes'>;

export function plannedAudio(order: AudioOrder): PlannedAudio {
  const { stretch, rate, format } = order;
  const length = samples(ticksToSamples(stretch.end, rate) - ticksToSamples(stretch.start, rate));
  return { ...order, kind: 'audio', length, pcmBytes: length * 2 * WORD_BYTES[format] };
}

/** Size of a file before it is written: exact, about, or at most (packed without loss). */
export function expectedSize({ coding, pcmBytes, length, rate, bitrate, quality }: PlannedAudio): {
  readonly bytes: number;
  readonly how: 'exactly' | 'about' | 'at most';
} {
  if (coding === 'raw') return { bytes: pcmBytes, how: 'exactly' };
  const { lossy, qualities, size } = factsOf(coding);
  const kbit = bitrate ?? qualities[quality ?? 0] ?? 0;
  return { bytes: lossy ? Math.round((length / rate) * kbit * 125) : pcmBytes, how: size };
}

/** Headers, tags and an embedded cover: a JPEG of 1400 × 1400 pixels, whatever it shows. */
const BESIDE_AUDIO = 4 * 2 ** 20;
/** What framing can add to audio that does not compress, and an encoder to its bit rate. */
const FRAMING = 1.02;

/** No file is larger than this: for programs that must know before anything is written. */
export function bytesAtMost(file: PlannedAudio): number {
  const { coding, length, rate, quality } = file;
  if (coding === 'raw') return file.pcmBytes;
  const most = quality === null ? undefined : factsOf(coding).bitrate?.most;
  const bytes = most === undefined ? expectedSize(file).bytes : (length / rate) * most * 125;
  return Math.ceil(bytes * FRAMING) + BESIDE_AUDIO;
}

/** Bytes that a plan's audio will take, at the most. */
export const planBytes = (plan: Plan): number =>
  audioFiles(plan).reduce((sum, audio) => sum + expectedSize(audio).bytes, 0);
