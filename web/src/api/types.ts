import type { Album, Deliverable, Measurement, Proof, PcmInfo } from '@oiseau/core';

/** What the server answers; dates are ISO texts. */
export interface ShelfEntry {
  readonly id: string;
  readonly title: string;
  readonly performer: string;
  readonly artwork: string | null;
  readonly tracks: number;
  readonly leadOut: number;
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
  readonly info: PcmInfo;
  readonly measurement: Measurement | null;
  readonly job?: { readonly state: JobState; readonly share: number; readonly message: string | null };
}

export interface DeliveryRecord {
  readonly id: string;
  readonly revision: number;
  readonly deliverable: Deliverable;
  readonly createdAt: string;
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
