import { uniform } from '@oiseau/audio/dsp';
import type { Block } from '@oiseau/audio/pcm';

/** A stretch of audio under construction, at its own rate. */
export interface Canvas extends Block {
  readonly rate: number;
}

export function canvas(rate: number, seconds: number): Canvas {
  const length = Math.round(rate * seconds);
  return { rate, left: new Float64Array(length), right: new Float64Array(length) };
}

/** One partial of a struck or sustained sound. */
interface Partial {
  readonly hz: number;
  readonly level: number;
  /** Seconds to fall by 60 dB. */
  readonly decay: number;
}

/** When, how loud (linear) and where between the speakers (−1 to 1) a note sounds. */
export interface Note {
  readonly at: number;
  readonly hz: number;
  readonly level: number;
  readonly pan: number;
  /** Seconds that a sustained instrument holds it. */
  readonly hold?: number;
}

/** Adds decaying sines, each advanced by a rotation: two products a sample, no sine in the loop. */
function strike(out: Canvas, note: Note, partials: readonly Partial[], attack: number): void {
  const { rate } = out;
  const start = Math.round(note.at * rate);
  const [left, right] = [Math.cos(((note.pan + 1) * Math.PI) / 4), Math.sin(((note.pan + 1) * Math.PI) / 4)];
  for (const { hz, level, decay } of partials) {
    if (hz > Math.min(0.45 * rate, 19_000)) continue;
    const shrink = 10 ** (-3 / (decay * rate));
    const end = Math.min(out.left.length, start + Math.round(decay * rate));
    const angle = (2 * Math.PI * hz) / rate;
    const [turnRe, turnIm] = [Math.cos(angle) * shrink, Math.sin(angle) * shrink];
    let re = level * note.level;
    let im = 0;
    const rise = Math.max(1, Math.round(attack * rate));
    const { left: toLeft, right: toRight } = out;
    for (let i = start; i < end; i++) {
      const value = i - start < rise ? (im * (i - start)) / rise : im;
      toLeft[i] = (toLeft[i] as number) + value * left;
      toRight[i] = (toRight[i] as number) + value * right;
      const next = re * turnRe - im * turnIm;
      im = re * turnIm + im * turnRe;
      re = next;
    }
  }
}

/** A string struck with a small hammer: stiff, so its partials are a little sharp; higher ones die sooner. */
export function hammeredString(out: Canvas, note: Note): void {
  const partials = Array.from({ length: 9 }, (_, i) => {
    const n = i + 1;
    return {
      hz: note.hz * n * Math.sqrt(1 + 0.0004 * n * n),
      level: 0.5 / n ** 1.15,
      decay: 3.2 / (1 + 0.45 * i),
    };
  });
  strike(out, note, partials, 0.002);
}

/** A rubbed and struck glass: few partials, far apart, long. */
export function glass(out: Canvas, note: Note): void {
  strike(
    out,
    note,
    [
      { hz: note.hz, level: 0.5, decay: 5.5 },
      { hz: note.hz * 2.32, level: 0.16, decay: 3 },
      { hz: note.hz * 4.25, level: 0.07, decay: 1.4 },
    ],
    0.03,
  );
}

/** A bell of the usual tuning: hum, prime, minor third, fifth, octave and what lies above. */
export function bell(out: Canvas, note: Note): void {
  const ratios = [0.5, 1, 1.19, 1.5, 2, 2.51, 2.66, 3.01, 4.17, 5.43];
  const partials = ratios.map((ratio, i) => ({
    hz: note.hz * ratio,
    level: [0.35, 0.5, 0.4, 0.2, 0.55, 0.2, 0.18, 0.16, 0.12, 0.07][i] ?? 0,
    decay: 9 / (0.6 + ratio),
  }));
  strike(out, note, partials, 0.001);
}

/** A reed of a harmonium: harmonics that swell, beat slowly against a second reed, and end softly. */
export function harmonium(out: Canvas, note: Note): void {
  const { rate } = out;
  const hold = note.hold ?? 2;
  const start = Math.round(note.at * rate);
  const length = Math.min(out.left.length - start, Math.round(hold * rate));
  const swell = Math.round(0.35 * rate);
  for (const [detune, side] of [
    [0.9985, 0.75],
    [1.0015, 0.25],
  ] as const) {
    for (let n = 1; n <= 7; n++) {
      const step = (2 * Math.PI * note.hz * n * detune) / rate;
      const level = (0.16 * note.level) / n;
      const [turnRe, turnIm] = [Math.cos(step), Math.sin(step)];
      let [re, im] = [level, 0];
      for (let i = 0; i < length; i++) {
        const value = im * Math.min(1, i / swell, (length - i) / swell);
        const at = start + i;
        out.left[at] = (out.left[at] as number) + value * side;
        out.right[at] = (out.right[at] as number) + value * (1 - side);
        const next = re * turnRe - im * turnIm;
        im = re * turnIm + im * turnRe;
        re = next;
      }
    }
  }
}

/** Vowels by their first three formants, Hz. */
const VOWELS = [
  [730, 1090, 2440],
  [400, 1700, 2600],
  [300, 870, 2240],
] as const;

/** A voice that sings a vowel: harmonics under three formants, with a slow vibrato, in the middle. */
export function voice(out: Canvas, note: Note, vowel: number): void {
  const { rate } = out;
  const start = Math.round(note.at * rate);
  const length = Math.min(out.left.length - start, Math.round((note.hold ?? 1) * rate));
  const formants = VOWELS[vowel % VOWELS.length] ?? VOWELS[0];
  const harmonics = Array.from({ length: 24 }, (_, i) => {
    const hz = note.hz * (i + 1);
    const resonance = formants.reduce(
      (sum, formant, n) => sum + 0.6 ** n / (1 + ((hz - formant) / 110) ** 2),
      0,
    );
    return (note.level * (0.06 + resonance)) / (i + 1) ** 0.6;
  });
  let phase = 0;
  for (let i = 0; i < length; i++) {
    const t = i / rate;
    const vibrato = 1 + 0.006 * Math.min(1, t / 0.4) * Math.sin(2 * Math.PI * 5.2 * t);
    phase += (2 * Math.PI * note.hz * vibrato) / rate;
    const swell = Math.min(1, t / 0.06, (length - i) / (0.12 * rate));
    // Every harmonic by the recurrence of sines of multiples.
    const twice = 2 * Math.cos(phase);
    let [before, sine, value] = [0, Math.sin(phase), 0];
    for (const level of harmonics) {
      value += level * sine;
      [before, sine] = [sine, twice * sine - before];
    }
    const at = start + i;
    out.left[at] = (out.left[at] as number) + 0.3 * swell * value;
    out.right[at] = (out.right[at] as number) + 0.3 * swell * value;
  }
}

/**
 * The lighthouse stair: a feedback network of eight delays mixed by reflection, with a low-pass in each line.
 * @param wet share of the room, linear
 * @param seconds time to fall by 60 dB
 */
export function reverb(out: Canvas, wet: number, seconds: number): void {
  const { rate, left, right } = out;
  const lines = [0.0297, 0.0371, 0.0411, 0.0437, 0.0533, 0.0617, 0.0689, 0.0797].map((delay) => {
    const length = Math.round(delay * rate);
    return { memory: new Float64Array(length), feedback: 10 ** ((-3 * delay) / seconds), low: 0, at: 0 };
  });
  const damp = Math.exp((-2 * Math.PI * 5200) / rate);
  const values = new Float64Array(lines.length);
  for (let i = 0; i < left.length; i++) {
    let sum = 0;
    for (let k = 0; k < lines.length; k++) {
      const line = lines[k] as (typeof lines)[number];
      line.low = (1 - damp) * (line.memory[line.at] as number) + damp * line.low;
      const value = line.low * line.feedback;
      values[k] = value;
      sum += value;
    }
    const reflected = sum / 4;
    const inLeft = left[i] as number;
    const inRight = right[i] as number;
    for (let k = 0; k < lines.length; k++) {
      const line = lines[k] as (typeof lines)[number];
      line.memory[line.at] = (values[k] as number) - reflected + (k % 2 ? inRight : inLeft) * 0.35;
      line.at = line.at + 1 === line.memory.length ? 0 : line.at + 1;
    }
    left[i] =
      inLeft +
      wet * ((values[0] as number) + (values[2] as number) - (values[4] as number) + (values[6] as number));
    right[i] =
      inRight +
      wet * ((values[1] as number) + (values[3] as number) - (values[5] as number) + (values[7] as number));
  }
}

/**
 * Scales to a sample peak in dBFS; over 0 the writer's limit will clip it, which one of the demo's masters wants.
 * @param loudest whose peak it is that goes there: of several mixes of one song the fullest
 */
export function toPeak(out: Canvas, peakDb: number, loudest: Canvas = out): void {
  let peak = 0;
  for (const channel of [loudest.left, loudest.right])
    for (const value of channel) peak = Math.max(peak, Math.abs(value));
  const gain = 10 ** (peakDb / 20) / peak;
  for (const channel of [out.left, out.right])
    for (let i = 0; i < channel.length; i++) channel[i] = (channel[i] as number) * gain;
}

/** Adds noise of a given RMS, the same each time. */
export function addNoise(out: Canvas, rmsDb: number, seed: { a: number; b: number }): void {
  const level = 10 ** (rmsDb / 20) * Math.sqrt(12);
  for (let i = 0; i < out.left.length; i++) {
    out.left[i] = (out.left[i] as number) + level * (uniform(seed, 2 * i) - 0.5);
    out.right[i] = (out.right[i] as number) + level * (uniform(seed, 2 * i + 1) - 0.5);
  }
}
