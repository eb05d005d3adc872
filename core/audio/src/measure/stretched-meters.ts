import { WORD_BYTES, type WordFormat } from '../pcm/block.js';
import { decodeWords } from '../pcm/words.js';
import { MasterMeters, type MasterState } from './master-meters.js';
import { Meters, type MetersState } from './measure.js';
import { SpectrumMeter } from './spectrum.js';

/** A stretch is as many whole seconds as go into so many samples, one at the least. */
const STRETCH_SAMPLES = 1 << 19;
/** Before a stretch the loudness filters hear so much: what they remember of anything earlier is below 2⁻⁴⁰ of it. */
const LEAD_SECONDS = 0.25;
/** Samples measured at a time: small enough for a processor’s own memory. */
const BLOCK = 8192;

/** `signal`: loudness, peaks and what is said of the samples; `master`: everything that is measured of a master. */
export type MeterKind = 'signal' | 'master';

/** A stretch of words to be measured by itself, as plain data. */
export interface MeasureOrder {
  readonly kind: MeterKind;
  readonly rate: number;
  readonly format: WordFormat;
  /** First sample of the stretch, a whole number of seconds, and its samples. */
  readonly start: number;
  readonly length: number;
  /** Samples that are at hand before it; what is left behind it follows it. */
  readonly lead: number;
  /** Whether the source ends with it. */
  readonly isLast: boolean;
  /** Interleaved little-endian stereo words; they stay as they are until it is measured. */
  readonly words: Uint8Array;
}

/** What was found in a stretch: of the kind that was ordered. */
export type MeasuredState = MetersState | MasterState;

/** Measures stretches somewhere, several at a time. */
export interface Measurer {
  /** Stretches that may be under way at once. */
  readonly width: number;
  measure(order: MeasureOrder): Promise<MeasuredState>;
  /** Memory for so many bytes of words that it measures without a copy. */
  room(bytes: number): Uint8Array;
}

/** Measures in the thread that asks. */
export const measureHere: Measurer = {
  width: 1,
  measure: (order) => Promise.resolve(measureStretch(order)),
  room: (bytes) => new Uint8Array(bytes),
};

/** Measures one chunk. The same chunk gives the same figures in any thread. */
export function measureStretch(order: MeasureOrder): MeasuredState {
  const { kind, rate, format, start, length, lead, words } = order;
  const step = 2 * WORD_BYTES[format];
  const part = (from: number, to: number): Uint8Array => words.subarray(from * step, to * step);
  const meters =
    kind === 'master' ? new MasterMeters(rate, format, length, start) : new Meters(rate, format, start);
  // A block that is a window of the spectrum is transformed where it lies.
  const block = kind === 'master' ? Math.max(BLOCK, SpectrumMeter.window(rate)) : BLOCK;
  if (lead > 0) meters.lead(decodeWords(part(0, lead), format, 2));
  for (let at = 0; at < length;) {
    const end = Math.min(length, (Math.floor((start + at) / block) + 1) * block - start);
    meters.pushWords(part(lead + at, lead + end));
    at = end;
  }
  if (meters instanceof MasterMeters) {
    if (lead + length < words.length / step)
      meters.trail(decodeWords(part(lead + length, words.length / step), format, 2));
    // Only what is no longer than this stretch can be shorter than a window.
    if (order.isLast && start === 0) meters.end();
  }
  return meters.state;
}

/** Meters over words that come in order, measured in chunks on a grid fixed to the source, on any thread, and joined in order. */
export class StretchedMeters {
  readonly #step: number;
  readonly #length: number;
  readonly #lead: number;
  readonly #trail: number;
  /** Words from `lead` samples before the stretch at hand on. */
  #window: Uint8Array;
  #filled = 0;
  #start = 0;
  readonly #underWay: { readonly measured: Promise<MeasuredState>; readonly window: Uint8Array }[] = [];
  /** Windows of stretches that are measured, to be used again. */
  readonly #spare: Uint8Array[] = [];

  /**
   * @param join takes what was found, stretch by stretch
   * @param rate, format of the words: interleaved little-endian stereo
   */
  constructor(
    readonly kind: MeterKind,
    readonly rate: number,
    readonly format: WordFormat,
    readonly measurer: Measurer,
    readonly join: (state: MeasuredState) => void,
  ) {
    this.#step = 2 * WORD_BYTES[format];
    this.#length = rate * Math.max(1, Math.floor(STRETCH_SAMPLES / rate));
    this.#lead = Math.ceil(LEAD_SECONDS * rate);
    this.#trail = kind === 'master' ? SpectrumMeter.window(rate) : 0;
    this.#window = this.#memory();
  }

  #memory(): Uint8Array {
    const bytes = (this.#lead + this.#length + this.#trail) * this.#step;
    return this.#spare.pop() ?? this.measurer.room(bytes);
  }

  /** Samples at hand before the stretch. */
  get #before(): number {
    return Math.min(this.#lead, this.#start);
  }

  /** Memory for the next words, at least one sample: what is read into it and pushed is not copied. Dead once anything is pushed. */
  get room(): Uint8Array {
    return this.#window.subarray(this.#filled, this.#wanted);
  }

  /** Bytes that the stretch at hand has when it is whole. */
  get #wanted(): number {
    return (this.#before + this.#length + this.#trail) * this.#step;
  }

  /** Takes words, a copy unless they lie in its room; waits where as many stretches as may be are under way. */
  async push(words: Uint8Array): Promise<void> {
    for (let done = 0; done < words.length;) {
      const { room } = this;
      const part = words.subarray(done, done + room.length);
      if (part.buffer !== room.buffer || part.byteOffset !== room.byteOffset) room.set(part);
      this.#filled += part.length;
      done += part.length;
      if (this.#filled === this.#wanted) await this.#send(this.#length, false);
    }
  }

  /** Sends the stretch at hand, and begins the next one with what it needs of this. */
  async #send(length: number, isLast: boolean): Promise<void> {
    const [lead, step] = [this.#before, this.#step];
    const next = this.#memory();
    const start = this.#start + length;
    const keptFrom = (lead + length - Math.min(this.#lead, start)) * step;
    next.set(this.#window.subarray(keptFrom, this.#filled));
    const words = this.#window.subarray(0, this.#filled);
    const { kind, rate, format, measurer } = this;
    const order: MeasureOrder = { kind, rate, format, start: this.#start, length, lead, isLast, words };
    const measured = measurer.measure(order);
    // A failure is reported when the chunk is joined.
    measured.catch(() => undefined);
    this.#underWay.push({ measured, window: this.#window });
    this.#window = next;
    this.#filled -= keptFrom;
    this.#start = start;
    if (this.#underWay.length >= measurer.width) await this.#joinNext();
  }

  async #joinNext(): Promise<void> {
    const next = this.#underWay.shift();
    if (!next) return;
    this.join(await next.measured);
    this.#spare.push(next.window);
  }

  /** Measures what is left, and waits until everything is joined. Nothing may come after it. */
  async end(): Promise<void> {
    const left = (): number => this.#filled / this.#step - this.#before;
    while (left() > this.#length) await this.#send(this.#length, false);
    if (left() > 0) await this.#send(left(), true);
    while (this.#underWay.length > 0) await this.#joinNext();
  }
}

/** Meters of loudness, peaks and samples over words that come in order. */
export class StretchedSignal {
  readonly #joined: Meters;
  readonly #meters: StretchedMeters;

  constructor(rate: number, format: WordFormat, measurer: Measurer) {
    this.#joined = new Meters(rate, format);
    this.#meters = new StretchedMeters('signal', rate, format, measurer, (state) =>
      this.#joined.join(state as MetersState),
    );
  }

  /** As that of `StretchedMeters`. */
  get room(): Uint8Array {
    return this.#meters.room;
  }

  push(words: Uint8Array): Promise<void> {
    return this.#meters.push(words);
  }

  /** To be asked for once, at the end. */
  async result(): Promise<ReturnType<Meters['result']>> {
    await this.#meters.end();
    return this.#joined.result();
  }
}

/** Audio whose words can be read anywhere: see `PcmFileSource.words`. */
interface WordsSource {
  readonly format: WordFormat;
  readonly length: number;
  words(start: number, count: number, into?: Uint8Array): Promise<Uint8Array>;
}

/** Samples read at a time. */
const READ = 1 << 16;

/** All words of a source in order. @param room memory that the next ones may lie in, at least one sample: that of meters */
export async function* wordsOf(source: WordsSource, room: () => Uint8Array): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < source.length;) {
    const into = room();
    const count = Math.min(READ, source.length - at, into.length / (2 * WORD_BYTES[source.format]));
    yield await source.words(at, count, into);
    at += count;
  }
}

/** All meters of a master over its words. @param progress gets the share that is done, 0 to 1 */
export async function measureMaster(
  source: WordsSource & { readonly rate: number },
  measurer: Measurer,
  progress?: (share: number) => Promise<void> | void,
): Promise<ReturnType<MasterMeters['result']>> {
  const { rate, format, length } = source;
  const joined = new MasterMeters(rate, format, length);
  const meters = new StretchedMeters('master', rate, format, measurer, (state) =>
    joined.join(state as MasterState),
  );
  let done = 0;
  for await (const words of wordsOf(source, () => meters.room)) {
    done += words.length / (2 * WORD_BYTES[format]);
    await meters.push(words);
    await progress?.(done / length);
  }
  await meters.end();
  return joined.result();
}
