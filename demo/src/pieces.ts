import { seedFromText, uniform } from '@oiseau/audio/dsp';
import type { WordFormat } from '@oiseau/audio/pcm';
import {
  addNoise,
  bell,
  canvas,
  glass,
  hammeredString,
  harmonium,
  reverb,
  toPeak,
  type Canvas,
} from './instruments.js';

/** One of the nine pieces: what it is made of, and what is on purpose wrong with it. */
export interface Piece {
  readonly file: string;
  readonly title: string;
  readonly rate: number;
  readonly format: WordFormat;
  readonly gapSeconds: number;
  readonly make: () => Canvas;
}

/** Church modes, as semitones above the root. */
export const DORIAN = [0, 2, 3, 5, 7, 9, 10];
export const LYDIAN = [0, 2, 4, 6, 7, 9, 11];
export const AEOLIAN = [0, 2, 3, 5, 7, 8, 10];

export interface Score {
  readonly name: string;
  readonly rate: number;
  readonly beatsPerMinute: number;
  readonly bars: number;
  readonly rootHz: number;
  readonly mode: readonly number[];
  /** Degrees of the mode, a bar each, again and again. */
  readonly chords: readonly number[];
  readonly strings: number;
  readonly glasses: number;
  readonly harmonium: number;
  /** Seconds before the first note. */
  readonly lead: number;
  /** Seconds after the last bar. */
  readonly tail: number;
  readonly roomSeconds: number;
  readonly peakDb: number;
}

/** Degrees over the chord for each eighth of a bar. */
const ARPEGGIO = [0, 4, 7, 9, 11, 9, 7, 4];

/** Plays a score: strings in eighths, a glass on each bar, harmonium chords under it; a pulse one can tap to. */
function play(score: Score): Canvas {
  const out = perform(score);
  toPeak(out, score.peakDb);
  return out;
}

/** A score as it sounds in the room, at no level yet. */
export function perform(score: Score, sing?: (out: Canvas) => void): Canvas {
  const beat = 60 / score.beatsPerMinute;
  const out = canvas(score.rate, score.lead + score.bars * 4 * beat + score.tail);
  const seed = seedFromText(score.name);
  let draws = 0;
  const random = (): number => uniform(seed, draws++);
  const pitch = (degree: number): number => {
    const { mode } = score;
    const octave = Math.floor(degree / mode.length);
    const semitone = mode[((degree % mode.length) + mode.length) % mode.length] ?? 0;
    return score.rootHz * 2 ** (octave + semitone / 12);
  };
  for (let bar = 0; bar < score.bars; bar++) {
    const chord = score.chords[bar % score.chords.length] ?? 0;
    const at = score.lead + bar * 4 * beat;
    const last = bar === score.bars - 1;
    for (let eighth = 0; eighth < (last ? 1 : 8); eighth++) {
      if (score.strings === 0 || (eighth % 2 === 1 && random() < 0.3)) continue;
      const degree = chord + (ARPEGGIO[eighth] ?? 0) + (random() < 0.15 ? 2 : 0);
      const accent = eighth % 4 === 0 ? 1 : 0.62;
      hammeredString(out, {
        at: at + (eighth * beat) / 2,
        hz: pitch(degree),
        level: score.strings * accent * (0.85 + 0.3 * random()),
        pan: -0.5 + random(),
      });
    }
    if (score.glasses > 0)
      glass(out, {
        at,
        hz: pitch(chord + 14 + Math.floor(3 * random()) * 2),
        level: score.glasses,
        pan: 0.6 - 1.2 * random(),
      });
    if (score.harmonium > 0) {
      for (const step of [0, 2, 4])
        harmonium(out, {
          at,
          hz: pitch(chord + step),
          level: score.harmonium,
          pan: 0,
          hold: 4 * beat * (last ? 1.4 : 1.08),
        });
    }
  }
  sing?.(out);
  reverb(out, 0.22, score.roomSeconds);
  return out;
}

export const base = {
  rate: 44_100,
  strings: 0.8,
  glasses: 0.5,
  harmonium: 0,
  lead: 0.25,
  tail: 5,
  roomSeconds: 2.6,
  peakDb: -2.5,
};

/** Cuts a canvas in two at a time. */
function cut(whole: Canvas, seconds: number): [Canvas, Canvas] {
  const at = Math.round(seconds * whole.rate);
  return [
    { rate: whole.rate, left: whole.left.slice(0, at), right: whole.right.slice(0, at) },
    { rate: whole.rate, left: whole.left.slice(at), right: whole.right.slice(at) },
  ];
}

/** Two pieces that were recorded in one go and run into each other: 11 bars, then the rest. */
function slackWaterAndNeap(): [Canvas, Canvas] {
  const beat = 60 / 84;
  const whole = play({
    ...base,
    name: 'slack water',
    beatsPerMinute: 84,
    bars: 22,
    rootHz: 98,
    mode: DORIAN,
    chords: [0, 3, 6, 4],
    harmonium: 0.55,
    strings: 0.6,
  });
  return cut(whole, base.lead + 11 * 4 * beat);
}

/** Mains hum before the first note, as a badly earthed lighthouse gives it. */
function withHum(out: Canvas, seconds: number): Canvas {
  const end = Math.round(seconds * out.rate);
  for (let i = 0; i < end; i++) {
    const fade = Math.min(1, (end - i) / (0.4 * out.rate));
    const hum =
      fade *
      (0.006 * Math.sin((2 * Math.PI * 50 * i) / out.rate) +
        0.003 * Math.sin((2 * Math.PI * 150 * i) / out.rate));
    out.left[i] = (out.left[i] as number) + hum;
    out.right[i] = (out.right[i] as number) + hum;
  }
  return out;
}

/** Noise of 16-bit words already dithered once: it is part of the master from then on. */
function alreadyDithered(out: Canvas): Canvas {
  const seed = seedFromText('salt ledger dither');
  for (const [channel, audio] of [out.left, out.right].entries()) {
    for (let i = 0; i < audio.length; i++) {
      const index = 2 * (2 * i + channel);
      audio[i] = (audio[i] as number) + (uniform(seed, index) - uniform(seed, index + 1)) / 32_768;
    }
  }
  return out;
}

/** Nine seconds in which nothing but the room's own noise is left. */
function withEmptyTail(out: Canvas): Canvas {
  const long = canvas(out.rate, out.left.length / out.rate + 9);
  long.left.set(out.left);
  long.right.set(out.right);
  addNoise(long, -88, seedFromText('empty tail'));
  return long;
}

export function nineTides(): Piece[] {
  const score = (change: Omit<Score, keyof typeof base> & globalThis.Partial<Score>): Canvas =>
    play({ ...base, ...change });
  let pair: [Canvas, Canvas] | undefined;
  const half = (index: 0 | 1): Canvas => (pair ??= slackWaterAndNeap())[index];
  return [
    {
      ...{ file: '01_lamp_lit.wav', title: 'Lamp Lit', rate: 44_100, format: 'int24', gapSeconds: 2 },
      make: () =>
        score({
          name: 'lamp lit',
          beatsPerMinute: 72,
          bars: 11,
          rootHz: 110,
          mode: LYDIAN,
          chords: [0, 4, 1, 5],
          harmonium: 0.3,
        }),
    },
    {
      ...{
        file: '02_lantern_oil.wav',
        title: 'Lantern Oil',
        rate: 96_000,
        format: 'int24',
        gapSeconds: 1.667,
      },
      make: () =>
        score({
          name: 'lantern oil',
          rate: 96_000,
          beatsPerMinute: 108,
          bars: 18,
          rootHz: 130.8,
          mode: DORIAN,
          chords: [0, 0, 3, 6],
        }),
    },
    {
      ...{
        file: '03_the_long_groyne.wav',
        title: 'The Long Groyne',
        rate: 48_000,
        format: 'int24',
        gapSeconds: 2.5,
      },
      make: () =>
        score({
          name: 'groyne',
          rate: 48_000,
          beatsPerMinute: 60,
          bars: 15,
          rootHz: 82.4,
          mode: AEOLIAN,
          chords: [0, 5, 2, 6],
          strings: 0.4,
          glasses: 0.8,
          peakDb: -6,
          tail: 9,
          roomSeconds: 4.5,
        }),
    },
    {
      ...{ file: '04_salt_ledger.wav', title: 'Salt Ledger', rate: 44_100, format: 'int16', gapSeconds: 1.5 },
      make: () =>
        alreadyDithered(
          score({
            name: 'salt ledger',
            beatsPerMinute: 126,
            bars: 16,
            rootHz: 146.8,
            mode: DORIAN,
            chords: [0, 6, 3, 4],
            glasses: 0.2,
          }),
        ),
    },
    {
      ...{
        file: '05_keepers_round.wav',
        title: 'Keeper’s Round',
        rate: 96_000,
        format: 'int24',
        gapSeconds: 2,
      },
      make: () =>
        score({
          name: 'keepers round',
          rate: 96_000,
          beatsPerMinute: 96,
          bars: 12,
          rootHz: 123.5,
          mode: AEOLIAN,
          chords: [0, 3, 4, 0],
          strings: 1,
          harmonium: 0.5,
          peakDb: 3.5,
        }),
    },
    {
      ...{ file: '06_slack_water.wav', title: 'Slack Water', rate: 44_100, format: 'int24', gapSeconds: 3 },
      make: () => half(0),
    },
    {
      ...{ file: '07_neap.wav', title: 'Neap', rate: 44_100, format: 'int24', gapSeconds: 0 },
      make: () => half(1),
    },
    {
      ...{
        file: '08_harmonium_for_fog.wav',
        title: 'Harmonium for Fog',
        rate: 48_000,
        format: 'float32',
        gapSeconds: 2,
      },
      make: () =>
        withHum(
          score({
            name: 'fog',
            rate: 48_000,
            beatsPerMinute: 54,
            bars: 14,
            rootHz: 73.4,
            mode: LYDIAN,
            chords: [0, 2, 5, 1],
            strings: 0,
            glasses: 0.35,
            harmonium: 0.9,
            lead: 2.6,
            peakDb: -4,
            tail: 7,
            roomSeconds: 5,
          }),
          2.6,
        ),
    },
    {
      ...{ file: '09_nine_tides.wav', title: 'Nine Tides', rate: 44_100, format: 'int24', gapSeconds: 4 },
      make: () =>
        withEmptyTail(
          score({
            name: 'nine tides',
            beatsPerMinute: 66,
            bars: 14,
            rootHz: 98,
            mode: DORIAN,
            chords: [0, 4, 6, 3],
            harmonium: 0.45,
            strings: 0.7,
            tail: 8,
            roomSeconds: 3.8,
          }),
        ),
    },
  ];
}

/** One long take of six bell pieces with pauses between them, some a little noisy. */
export function carillon(): Piece {
  const make = (): Canvas => {
    const parts = [
      [34, 0.9, 392],
      [28, 0.7, 440],
      [41, 1.1, 349.2],
      [25, 0.6, 523.3],
      [37, 1, 392],
      [45, 1.4, 329.6],
    ] as const;
    const pause = 6;
    const out = canvas(
      44_100,
      parts.reduce((sum, [seconds]) => sum + seconds + pause, 3),
    );
    const seed = seedFromText('carillon');
    let draws = 0;
    let at = 2;
    for (const [seconds, step, hz] of parts) {
      for (let t = 0; t < seconds - 5; t += step * (uniform(seed, draws++) < 0.25 ? 0.5 : 1)) {
        const degree = DORIAN[Math.floor(uniform(seed, draws++) * 7)] ?? 0;
        bell(out, {
          at: at + t,
          hz: hz * 2 ** (degree / 12),
          level: 0.4 + 0.4 * uniform(seed, draws++),
          pan: -0.7 + 1.4 * uniform(seed, draws++),
        });
      }
      at += seconds + pause;
    }
    reverb(out, 0.18, 3.2);
    toPeak(out, -5);
    addNoise(out, -78, seed);
    return out;
  };
  return {
    file: 'carillon_low_water.wav',
    title: 'Carillon, Low Water',
    rate: 44_100,
    format: 'int24',
    gapSeconds: 2,
    make,
  };
}
