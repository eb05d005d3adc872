import { FRAMES_PER_SECOND } from '../time/frames.js';
import { kernels, type Kernels, type Placed } from '../kernels/kernels.js';
import type { Block } from '../pcm/block.js';
import type { JoinedMeter } from './joined-meter.js';
import { statisticsReference, SUMS } from './signal.js';

/** Full scale of a silhouette's 16-bit values; a little head-room stays for float masters over 0 dBFS. */
const UNITY = 32_768;

/** The outline of a stretch, and the bucket that it begins with. */
export interface SilhouetteState {
  readonly from: number;
  readonly values: Uint16Array;
}

/**
 * The outline of a signal: for each CD frame (1/75 s of its own time) the highest magnitude and the RMS of both channels,
 * as pairs of 16-bit values of which 32,768 is full scale. Values over 2.0 are limited.
 */
export class SilhouetteMeter implements JoinedMeter<SilhouetteState> {
  readonly #values: Uint16Array;
  #peak = 0;
  #power = 0;
  readonly #from: number;
  #bucket: number;
  #position: number;
  #bucketStart: number;

  /**
   * @param length samples that will be pushed, or joined
   * @param start a whole number of seconds, in samples: where they begin
   */
  constructor(
    readonly rate: number,
    length: number,
    start = 0,
  ) {
    this.#values = new Uint16Array(2 * Math.ceil((length * FRAMES_PER_SECOND) / rate));
    this.#from = this.#bucket = (start / rate) * FRAMES_PER_SECOND;
    this.#position = this.#bucketStart = start;
  }

  /** To be asked for once, when everything was pushed. */
  get state(): SilhouetteState {
    this.#close();
    return { from: this.#from, values: this.#values };
  }

  join({ from, values }: SilhouetteState): void {
    this.#values.set(values, 2 * (from - this.#from));
    this.#position = this.#bucketStart = 0;
  }

  push(block: Block): void {
    if (kernels) {
      kernels.begin();
      this.pushPlaced(kernels, kernels.place(block));
    } else
      this.#buckets(block.left.length, (from, to) =>
        statisticsReference({ left: block.left.subarray(from, to), right: block.right.subarray(from, to) }),
      );
  }

  pushPlaced(machine: Kernels, { left, right, length }: Placed): void {
    const at = machine.take(8 * SUMS);
    const sums = machine.doubles(at, SUMS);
    this.#buckets(length, (from, to) => {
      machine.call.statistics(left + 8 * from, right + 8 * from, to - from, at);
      return sums;
    });
  }

  /** @param statistics of samples `[from, to)`: see `statisticsReference` */
  #buckets(length: number, statistics: (from: number, to: number) => Float64Array): void {
    for (let at = 0; at < length;) {
      // Bucket k covers [⌊k·rate/75⌋, ⌊(k+1)·rate/75⌋): rates that 75 does not divide keep in step as well.
      const bucketEnd = Math.floor(((this.#bucket + 1) * this.rate) / FRAMES_PER_SECOND);
      const end = Math.min(length, at + bucketEnd - this.#position);
      const [, , powerLeft = 0, powerRight = 0, , peak = 0] = statistics(at, end);
      this.#peak = Math.max(this.#peak, peak);
      this.#power += powerLeft + powerRight;
      this.#position += end - at;
      at = end;
      if (this.#position === bucketEnd) this.#close();
    }
  }

  #close(): void {
    const count = this.#position - this.#bucketStart;
    if (count === 0) return;
    const store = (value: number): number => Math.min(65_535, Math.round(value * UNITY));
    const at = 2 * (this.#bucket - this.#from);
    this.#values[at] = store(this.#peak);
    this.#values[at + 1] = store(Math.sqrt(this.#power / (2 * count)));
    this.#bucket++;
    this.#bucketStart = this.#position;
    this.#peak = 0;
    this.#power = 0;
  }

  result(): Silhouette {
    this.#close();
    return new Silhouette(this.#values);
  }
}

/** Buckets that are also kept as one, so that what is seen from afar is read quickly. */
const GROUP = 32;

/** A measured outline, read by time. */
export class Silhouette {
  /** The highest peak of each whole group, and the sum of the squares of the RMS of everything before it. */
  #groups: { readonly peaks: Uint16Array; readonly powers: Float64Array } | undefined;

  /** @param values pairs of peak and RMS, one pair for each 1/75 s */
  constructor(readonly values: Uint16Array) {}

  /** From stored pairs of little-endian 16-bit values. */
  static fromBytes(bytes: Uint8Array): Silhouette {
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    return new Silhouette(
      Uint16Array.from({ length: bytes.byteLength >> 1 }, (_, i) => view.getUint16(2 * i, true)),
    );
  }

  /** The same outline with `step` buckets in one: the highest peak, the mean power. */
  coarser(step: number): Silhouette {
    if (step === 1) return this;
    const values = new Uint16Array(2 * Math.ceil(this.length / step));
    for (let i = 0; i < values.length / 2; i++) {
      const { peak, rms } = this.over(i * step, (i + 1) * step);
      values[2 * i] = Math.round(peak * UNITY);
      values[2 * i + 1] = Math.round(rms * UNITY);
    }
    return new Silhouette(values);
  }

  /** Number of 1/75 s buckets. */
  get length(): number {
    return this.values.length / 2;
  }

  /** Highest peak and RMS over the buckets `[from, to)`, linear; zero outside. At least one bucket is looked at. */
  over(from: number, to: number): { peak: number; rms: number } {
    const first = Math.max(0, Math.floor(from));
    const last = Math.min(this.length, Math.max(first + 1, Math.floor(to)));
    const [begun, ended] = [Math.ceil(first / GROUP), Math.floor(last / GROUP)];
    let [peak, power] = [0, 0];
    const look = (begin: number, end: number): void => {
      for (let bucket = begin; bucket < end; bucket++) {
        peak = Math.max(peak, this.values[2 * bucket] as number);
        power += (this.values[2 * bucket + 1] as number) ** 2;
      }
    };
    if (begun < ended) {
      // Sums of squares are whole numbers: exact, however they are put together.
      const { peaks, powers } = (this.#groups ??= this.#grouped());
      look(first, begun * GROUP);
      for (let group = begun; group < ended; group++) peak = Math.max(peak, peaks[group] as number);
      power += (powers[ended] as number) - (powers[begun] as number);
      look(ended * GROUP, last);
    } else look(first, last);
    return { peak: peak / UNITY, rms: last > first ? Math.sqrt(power / (last - first)) / UNITY : 0 };
  }

  #grouped(): { peaks: Uint16Array; powers: Float64Array } {
    const count = Math.floor(this.length / GROUP);
    const peaks = new Uint16Array(count);
    const powers = new Float64Array(count + 1);
    for (let group = 0; group < count; group++) {
      let power = powers[group] as number;
      for (let bucket = group * GROUP; bucket < (group + 1) * GROUP; bucket++) {
        peaks[group] = Math.max(peaks[group] as number, this.values[2 * bucket] as number);
        power += (this.values[2 * bucket + 1] as number) ** 2;
      }
      powers[group + 1] = power;
    }
    return { peaks, powers };
  }
}
