import type { Album, Deliverable, EmbeddedText, MasterMeasurement, PcmInfo, Proof } from '@oiseau/core';

/** What the server answers; dates are ISO texts. */
export interface ShelfEntry {
  readonly id: string;
  readonly title: string;
  readonly performer: string;
  readonly artwork: string | null;
  readonly tracks: number;
  /** How long it is, in CD frames. */
  readonly frames: number;
  readonly updatedAt: string;
}

export interface AlbumRecord {
  readonly id: string;
  readonly version: number;
  readonly album: Album;
}

export type JobState = 'queued' | 'running' | 'done' | 'failed' | 'stopped';

export interface MasterRecord {
  readonly sha256: string;
  readonly name: string;
  readonly bytes: number;
  /** The words that are read: those of the file, or of its decoded audio. */
  readonly info: PcmInfo;
  /** null for plain PCM. */
  readonly coding: {
    readonly codec: string;
    readonly lossy: boolean;
    readonly bitrate: number | null;
  } | null;
  /** What lay in the file beside its audio; `cover` is the SHA-256 of a picture. */
  readonly embedded: EmbeddedText & { readonly cover: string | null };
  readonly measurement: MasterMeasurement | null;
  /** SHA-256 of the master of which this one is a newer version. */
  readonly replaces: string | null;
  readonly job?: { readonly state: JobState; readonly share: number; readonly message: string | null };
}

export interface DeliveryRecord {
  readonly id: string;
  readonly revision: number;
  readonly deliverable: Deliverable;
  readonly createdAt: string;
  /** May be empty. */
  readonly askedBy: string;
  /** When its files were deleted. */
  readonly clearedAt: string | null;
  readonly state: JobState;
  readonly progress: {
    readonly share: number;
    readonly phase: string;
    readonly speed: number;
    readonly secondsLeft: number | null;
  } | null;
  readonly message: string | null;
  readonly proof: Proof | null;
}

/** What somebody noted while listening to a rendered file. */
export interface NoteRecord {
  readonly id: string;
  readonly path: string;
  /** From the start of the file. */
  readonly seconds: number;
  readonly text: string;
}

export interface RevisionRecord {
  readonly number: number;
  readonly createdAt: string;
}
