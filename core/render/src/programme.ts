import { type PlayedRegion, type Sequence, soundKey } from '@oiseau/album/model';
import { RideSource, treated, type TreatedOptions, isUntreated } from '@oiseau/audio/stages';
import { place, type Placement } from '@oiseau/album/layout';
import { applyFade, dbToLinear, atRate, fitsInteger, ShiftedSource, type FadeShape } from '@oiseau/audio/dsp';
import { silence, type Block, type Memory, type PcmSource } from '@oiseau/audio/pcm';
import {
  ceilToFrame,
  frames,
  framesToTicks,
  intervalLength,
  type Interval,
  samples,
  ticksToSamples,
  type Samples,
  type Ticks,
} from '@oiseau/audio/time';

/** Masters by the key that regions name them by; one master is one source. */
export type SourcesByKey = ReadonlyMap<string, PcmSource>;

/** A song's place in the programme, in samples at the programme's rate. */
interface Voice extends Interval<Samples> {
  /** The master as it is. */
  readonly master: PcmSource;
  /** The master at the programme's rate. */
  readonly source: PcmSource;
  /** Sample of the source that sounds at `start`. */
  readonly sourceStart: number;
  readonly gain: number;
  readonly fadeIn: VoiceFade;
  readonly fadeOut: VoiceFade;
  /** That of its stages, in samples of the programme; null where none has one. */
  readonly memory: Remembered | null;
}

/** Settling state of the stateful stages, in (fractional) programme samples. */
interface Remembered {
  /** Distance between restart points of the stage that restarts least often. */
  readonly every: number;
  /** One of these places. */
  readonly from: number;
  readonly since: Memory['since'];
}

/** End of a chunk, and the run it should be rendered in. */
export interface Cut {
  /** Place in samples. */
  readonly cut: number;
  /** What is better made by one, from its beginning to its end; null for what anybody can make as well. */
  readonly run: Run | null;
}

/** A range that is cheap to start rendering from: every stage restarts at its beginning. */
export interface Run {
  /** Place at which it begins, in samples. */
  readonly from: number;
  /** Stretches from one place where its stages begin anew to the next: a run has about as many. */
  readonly stretches: number;
}

/** How far a stage may look back, in seconds. */
const LOOK_BACK_SECONDS = 0.5;
/** Stages that begin anew so seldom, in seconds, are read in runs: a read that begins in between processes up to as much for each of them. */
const SELDOM_SECONDS = 10;
/** Where stages with a memory begin anew more often, a stretch is so many times as long as from one of those places to the next. */
const STEPS_IN_STRETCH = 4;

interface VoiceFade {
  readonly length: number;
  readonly shape: FadeShape;
}

/**
 * A part of an album as one stream of audio at one rate, from its absolute zero (of a disc the start of the first pause) on: what the
 * player plays and what every deliverable is cut from. Each sample depends on the sequence and its masters alone, so reading in blocks
 * of any size gives the same bits as reading whole.
 */
export class Programme {
  readonly #voices: readonly Voice[];
  /** What the voices make together, with what is done to the album. */
  readonly #whole: PcmSource;
  readonly #memory: Remembered | null;
  readonly #isTreated: boolean;
  readonly placement: Placement;
  /** Samples from absolute zero to the next CD frame after the end: to the lead-out of a disc. */
  readonly length: Samples;
  /** Samples from absolute zero to the end of the last audio and the end pause, not filled to the frame. */
  readonly end: Samples;

  /**
   * @param masters every master that the sequence plays, at its own rate
   * @param options `onStage` is told of the stages of the album’s treatment
   * @throws RangeError when one is missing
   */
  constructor(
    sequence: Sequence,
    masters: SourcesByKey,
    readonly rate: number,
    options: TreatedOptions = {},
  ) {
    this.placement = place(sequence);
    this.length = this.at(framesToTicks(ceilToFrame(this.placement.end)));
    this.end = this.at(this.placement.end);
    const voices: Voice[] = [];
    sequence.songs.forEach(({ id, region }, i) => {
      const placed = this.placement.songs.get(id);
      const found = masters.get(region.master);
      if (!placed || !found) throw new RangeError(`Song ${i + 1} has no place or no master.`);
      const { shift } = region;
      const master = shift ? new ShiftedSource(found, ticksToSamples(shift, found.rate)) : found;
      const start = this.at(placed.start);
      // A song that goes on where the one before it ends, in the same recording, stays with its samples: rounding the in
      // point by itself could repeat one or leave one out.
      const last = voices.at(-1);
      const before = sequence.songs[i - 1]?.region;
      const runsOn =
        before?.master === region.master &&
        last?.end === start &&
        before.out === region.in &&
        handledAlike(before, region);
      const handled = isUntreated(region.sound)
        ? null
        : treatedMaster(master, region, options.soon ? { soon: true } : {});
      const sourceStart = runsOn ? samples(last.sourceStart + intervalLength(last)) : this.at(region.in);
      voices.push({
        master,
        source: runsOn ? last.source : atRate(handled ?? master, rate),
        start,
        end: this.at(placed.end),
        sourceStart,
        memory: handled && remembered(handled, rate, start - sourceStart),
        // A stage works on what the gain has made of the master.
        gain: handled ? 1 : dbToLinear(region.gainDb),
        fadeIn: { length: this.at(region.fadeIn.length), shape: region.fadeIn.shape },
        fadeOut: { length: this.at(region.fadeOut.length), shape: region.fadeOut.shape },
      });
    });
    this.#voices = voices;
    const mix: PcmSource = {
      ...{ rate, length: this.length, format: 'float64' },
      read: (start, count, into) => this.#mix(start, count, into),
    };
    this.#whole = treated(mix, sequence.sound, options);
    this.#memory = remembered(this.#whole, rate, 0);
    this.#isTreated = this.#whole !== mix;
  }

  /** A time as a sample position at the programme's rate (docs/rules.md 3.4). */
  at(time: Ticks): Samples {
    return ticksToSamples(time, this.rate);
  }

  /** Samples in a CD frame: the grid on which blocks are read and digital silence is told. */
  get frameLength(): number {
    return Math.max(1, this.at(framesToTicks(frames(1))));
  }

  /**
   * Where a stretch that begins at a place may end, so that a reader that starts there repeats little work: `usual` samples on, and in
   * what is treated where the stages have begun anew. Behind the place, and `end` at the most.
   */
  cutAfter(position: number, end: number, usual: number): Cut {
    const widest = [...this.#soundingAt(position).map((voice) => voice.memory), this.#memory]
      .filter((each) => each !== null)
      .reduce<Remembered | null>((most, each) => (most && most.every >= each.every ? most : each), null);
    if (!widest || widest.every > SELDOM_SECONDS * this.rate) {
      const cut = Math.min(end, (Math.floor(position / usual) + 1) * usual);
      return { cut, run: widest && this.#runAt(position, Math.ceil(widest.every / usual), usual) };
    }
    const beyond = LOOK_BACK_SECONDS * this.rate;
    const length = Math.max(usual, STEPS_IN_STRETCH * widest.every);
    const steps = Math.floor((position + length - beyond - widest.from) / widest.every);
    return { cut: Math.min(end, Math.ceil(widest.from + steps * widest.every + beyond)), run: null };
  }

  /** The run in which a place lies. @param stretches of `usual` samples: so many places one after the other are compared, and a run begins at the best of them */
  #runAt(position: number, stretches: number, usual: number): Run {
    const beginning = (window: number): number => {
      const places = Array.from({ length: stretches }, (_, i) => (window * stretches + i) * usual);
      const work = places.map((place) => place - this.#since(place));
      return places[work.indexOf(Math.min(...work))] ?? 0;
    };
    const window = Math.floor(position / (stretches * usual));
    const here = beginning(window);
    const from = here <= position ? here : window > 0 ? beginning(window - 1) : 0;
    return { from, stretches };
  }

  /** The first sample of the programme that a read beginning at a position must process. */
  #since(position: number): number {
    const read = position - LOOK_BACK_SECONDS * this.rate;
    const first = this.#memory?.since(read) ?? read;
    return Math.min(first, ...this.#soundingAt(position).map(({ memory }) => memory?.since(first) ?? first));
  }

  #soundingAt(position: number): Voice[] {
    return this.#voices.filter(({ start, end }) => start <= position && position < end);
  }

  /** Reads `count` samples from `start` (0 or more); silence where no song sounds and beyond the end. */
  read(start: number, count: number, into?: Block): Promise<Block> {
    return this.#whole.read(start, count, into);
  }

  async #mix(start: number, count: number, into?: Block): Promise<Block> {
    let mix: Block | undefined;
    // Up to here a voice has laid its samples; beyond it there is nothing yet for the next one to be added to.
    let laid = start;
    for (const voice of this.#voices) {
      const from = Math.max(start, voice.start);
      const to = Math.min(start + count, voice.end);
      if (from >= to) continue;
      const first = voice.sourceStart + from - voice.start;
      // Nothing of what is laid already may lie in that memory.
      const isAll = !mix && to - from === count;
      const audio = await voice.source.read(first, to - from, isAll ? into : undefined);
      shape(audio.left, from, voice);
      shape(audio.right, from, voice);
      if (isAll) mix = audio;
      else {
        mix ??= silence(count);
        lay(mix.left, audio.left, from - start, laid - start);
        lay(mix.right, audio.right, from - start, laid - start);
      }
      laid = Math.max(laid, to);
    }
    return mix ?? silence(count);
  }

  /**
   * The stretches that an integer of `bits` does not hold exactly, because the master's words are longer, the
   * rate differs, or gain, a fade or an overlap works there. Everything else is copied bit for bit (docs/rules.md 4.2).
   * In order, not overlapping.
   */
  touchedRanges(bits: number): Interval<Samples>[] {
    if (this.#isTreated) return [{ start: samples(0), end: this.length }];
    const ranges: Interval<Samples>[] = [];
    this.#voices.forEach((voice, i) => {
      const { start, end } = voice;
      if (voice.gain !== 1 || voice.source !== voice.master || !fitsInteger(voice.master, bits))
        ranges.push({ start, end });
      ranges.push(
        { start, end: samples(start + voice.fadeIn.length) },
        { start: samples(end - voice.fadeOut.length), end },
      );
      for (const other of this.#voices.slice(i + 1)) {
        ranges.push({ start: samples(Math.max(start, other.start)), end: samples(Math.min(end, other.end)) });
      }
    });
    return merge(ranges);
  }
}

/** @param offset place of the programme at which a source has its first sample */
function remembered({ memory, rate: own }: PcmSource, rate: number, offset: number): Remembered | null {
  if (!memory) return null;
  const scale = rate / own;
  return {
    ...{ every: memory.stretch * scale, from: offset },
    since: (position) => memory.since(Math.floor((position - offset) / scale)) * scale + offset,
  };
}

/** Whether one recording that runs on from one region into the next is handled alike in both. */
const handledAlike = (a: PlayedRegion, b: PlayedRegion): boolean =>
  a.shift === b.shift &&
  ((isUntreated(a.sound) && isUntreated(b.sound)) ||
    (a.gainDb === b.gainDb && JSON.stringify(a.sound) === JSON.stringify(b.sound)));

/** The whole master at its own rate, with its gain and what is done to its sound: a trim never clicks, and a ride stays with the sound. */
export const treatedMaster = (
  master: PcmSource,
  { gainDb, sound }: Pick<PlayedRegion, 'gainDb' | 'sound'>,
  options: TreatedOptions = {},
): PcmSource => treated(gainDb === 0 ? master : new RideSource(master, gainDb), sound, options);

function shape(audio: Float64Array, from: number, voice: Voice): void {
  if (voice.gain !== 1) for (let i = 0; i < audio.length; i++) audio[i] = (audio[i] as number) * voice.gain;
  applyFade(audio, from - voice.start, voice.fadeIn.length, voice.fadeIn.shape, 'in');
  applyFade(
    audio,
    from - (voice.end - voice.fadeOut.length),
    voice.fadeOut.length,
    voice.fadeOut.shape,
    'out',
  );
}

/** Adds audio to what is laid of a mix up to `laid`, and puts the rest down as it is. */
function lay(mix: Float64Array, audio: Float64Array, at: number, laid: number): void {
  const shared = Math.max(0, Math.min(audio.length, laid - at));
  for (let i = 0; i < shared; i++) mix[at + i] = (mix[at + i] as number) + (audio[i] as number);
  mix.set(audio.subarray(shared), at + shared);
}

/** Sorts, drops what is empty, and joins what touches. */
function merge(ranges: readonly Interval<Samples>[]): Interval<Samples>[] {
  const merged: Interval<Samples>[] = [];
  for (const range of ranges.filter(({ start, end }) => end > start).sort((a, b) => a.start - b.start)) {
    const last = merged.at(-1);
    if (last && range.start <= last.end)
      merged[merged.length - 1] = { start: last.start, end: samples(Math.max(last.end, range.end)) };
    else merged.push(range);
  }
  return merged;
}

/**
 * The sound key that seeds the dither (docs/rules.md 4.2): masters are told by rate, length and word, so that an album sounds the same wherever
 * its masters lie and whatever they are called.
 */
export const ditherKey = (
  sequence: Sequence,
  masters: ReadonlyMap<string, Omit<PcmSource, 'read'>>,
): string =>
  soundKey(sequence, (name) => {
    const master = masters.get(name);
    return [master?.rate, master?.length, master?.format];
  });
