import { REDUCING_STAGES } from '@oiseau/audio/stages';

/** A measured sound to be drawn, in steps of 1/75 s. */
export interface SoundOutline {
  /** Pairs of peak and RMS: see `Silhouette`. */
  readonly silhouette: Uint16Array;
  /** Gain reduction in tenths of a decibel, one value of each reducing stage in every step, in the order of `REDUCING_STAGES`. */
  readonly reductions: Uint8Array;
}

/** Bytes of a step: peak and RMS, 16 bit each, and a byte for each reducing stage. */
const STEP_BYTES = 4 + REDUCING_STAGES.length;

/** An outline as it is stored and sent: all pairs in little-endian words, then all reductions. */
export function outlineBytes({ silhouette, reductions }: SoundOutline): Uint8Array {
  const bytes = new Uint8Array(silhouette.byteLength + reductions.length);
  bytes.set(new Uint8Array(silhouette.buffer, silhouette.byteOffset, silhouette.byteLength));
  bytes.set(reductions, silhouette.byteLength);
  return bytes;
}

/** Reads what `outlineBytes` has written. */
export function readOutline(bytes: ArrayBuffer): SoundOutline {
  const steps = Math.floor(bytes.byteLength / STEP_BYTES);
  return {
    silhouette: new Uint16Array(bytes, 0, 2 * steps),
    reductions: new Uint8Array(bytes, 4 * steps, REDUCING_STAGES.length * steps),
  };
}
