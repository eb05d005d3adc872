import { sounding, type Layout, type PlacedAudio, type Sequence } from '../album/sequence.js';
import type { Range } from '../dsp/dither.js';
import { applyFade } from '../dsp/fade.js';
import { dbToLinear } from '../dsp/gain.js';
import { atRate, fitsInteger } from '../dsp/resample.js';
import { silence, type Block, type PcmSource } from '../pcm/block.js';
import { frames, framesToTicks } from '../time/frames.js';
import { ticksToSamples, type Ticks } from '../time/ticks.js';
import type { FadeShape } from '../dsp/fade.js';

/** A track's place in the programme, in samples at the programme's rate. */
interface Voice {
  /** The master as it is. */
  readonly master: PcmSource;
  /** The master at the programme's rate. */
  readonly source: PcmSource;
  /** First sample in the programme, and the one after the last. */
  readonly start: number;
  readonly end: number;
  /** Sample of the source that sounds at `start`. */
  readonly sourceStart: number;
  readonly gain: number;
  readonly fadeIn: VoiceFade;
  readonly fadeOut: VoiceFade;
}

interface VoiceFade {
  readonly length: number;
  readonly shape: FadeShape;
}

/**
 * The album as one stream of audio at one rate, from the start of the first pause (absolute 00:00:00) on: what the player
 * plays and what every deliverable is cut from. Each sample depends on the sequence alone, so reading in blocks of any size
 * gives the same bits as reading whole.
 */
export class Programme {
  readonly #voices: readonly Voice[];
  /** Samples from absolute zero to the lead-out. */
  readonly length: number;
  /** Samples from absolute zero to the end of the last audio and the end pause, not filled to the frame. */
  readonly end: number;

  /** @param masters one source for everything that sounds in the sequence, in order, at its own rate */
  constructor(
    sequence: Sequence,
    readonly layout: Layout,
    masters: readonly PcmSource[],
    readonly rate: number,
  ) {
    this.length = this.at(framesToTicks(layout.leadOut));
    this.end = this.at(layout.end);
    const voices: Voice[] = [];
    const regions = sounding(sequence);
    const places = sounding<PlacedAudio>(layout);
    regions.forEach((track, i) => {
      const placed = places[i];
      const master = masters[i];
      if (!placed || !master) throw new RangeError(`Song ${i + 1} has no place or no master.`);
      const start = this.at(placed.audioStart);
      // A track that goes on where the one before it ends, in the same recording, stays with its samples: rounding the in
      // point by itself could repeat one or leave one out.
      const last = voices.at(-1);
      const runsOn = last?.master === master && last.end === start && regions[i - 1]?.out === track.in;
      voices.push({
        master,
        source: runsOn ? last.source : atRate(master, rate),
        start,
        end: this.at(placed.audioEnd),
        sourceStart: runsOn ? last.sourceStart + last.end - last.start : this.at(track.in),
        gain: dbToLinear(track.gainDb),
        fadeIn: { length: this.at(track.fadeIn.length), shape: track.fadeIn.shape },
        fadeOut: { length: this.at(track.fadeOut.length), shape: track.fadeOut.shape },
      });
    });
    this.#voices = voices;
  }

  /** A time as a sample position at the programme's rate (trade.md 3.4). */
  at(time: Ticks): number {
    return ticksToSamples(time, this.rate);
  }

  /** Samples in a CD frame: the grid on which blocks are read and digital silence is told. */
  get frameLength(): number {
    return Math.max(1, this.at(framesToTicks(frames(1))));
  }

  /** Reads `count` samples from `start` (0 or more); silence where no track sounds and beyond the end. */
  async read(start: number, count: number): Promise<Block> {
    let mix: Block | undefined;
    // Up to here a voice has laid its samples; beyond it there is nothing yet for the next one to be added to.
    let laid = start;
    for (const voice of this.#voices) {
      const from = Math.max(start, voice.start);
      const to = Math.min(start + count, voice.end);
      if (from >= to) continue;
      const audio = await voice.source.read(voice.sourceStart + from - voice.start, to - from);
      shape(audio.left, from, voice);
      shape(audio.right, from, voice);
      if (!mix && to - from === count) mix = audio;
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
   * rate differs, or gain, a fade or an overlap works there. Everything else is copied bit for bit (trade.md 4).
   * In order, not overlapping.
   */
  touchedRanges(bits: number): Range[] {
    const ranges: Range[] = [];
    this.#voices.forEach((voice, i) => {
      const { start, end } = voice;
      if (voice.gain !== 1 || voice.source !== voice.master || !fitsInteger(voice.master, bits))
        ranges.push({ start, end });
      ranges.push({ start, end: start + voice.fadeIn.length }, { start: end - voice.fadeOut.length, end });
      for (const other of this.#voices.slice(i + 1)) {
        ranges.push({ start: Math.max(start, other.start), end: Math.min(end, other.end) });
      }
    });
    return merge(ranges);
  }
}

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
function merge(ranges: readonly Range[]): Range[] {
  const merged: Range[] = [];
  for (const range of ranges.filter(({ start, end }) => end > start).sort((a, b) => a.start - b.start)) {
    const last = merged.at(-1);
    if (last && range.start <= last.end)
      merged[merged.length - 1] = { start: last.start, end: Math.max(last.end, range.end) };
    else merged.push(range);
  }
  return merged;
}

/** What of a sequence decides the sound, as text: the seed of the dither is made from it (trade.md 4). */
export function soundOf(sequence: Sequence, masters: readonly PcmSource[]): string {
  return JSON.stringify([
    sequence.endPause,
    sounding(sequence).map((track, i) => {
      const master = masters[i];
      const fade = ({ length, shape: of }: { length: Ticks; shape: FadeShape }): unknown => [length, of];
      return [
        master?.rate,
        master?.length,
        master?.format,
        track.in,
        track.out,
        track.gapBefore,
        track.gainDb,
        fade(track.fadeIn),
        fade(track.fadeOut),
      ];
    }),
  ]);
}
