import type { Block } from '@oiseau/audio/pcm';
import { FRAMES_PER_SECOND } from '@oiseau/audio/time';

/** The power of each CD frame of audio that comes in blocks of any size. */
export class Envelope {
  readonly #powers: number[] = [];
  #samples = 0;
  #sum = 0;
  #frame = 0;

  constructor(readonly rate: number) {}

  push({ left, right }: Block): void {
    for (let i = 0; i < left.length; i++) {
      const l = left[i] as number;
      const r = right[i] as number;
      this.#sum += l * l + r * r;
      this.#samples++;
      // Frames end where their time does: some rates have no whole number of samples in one.
      if (this.#samples * FRAMES_PER_SECOND < (this.#frame + 1) * this.rate) continue;
      this.#powers.push(this.#sum);
      this.#sum = 0;
      this.#frame++;
    }
  }

  /** Linear powers, a number for each frame; the last may be of a part of one. */
  done(): Float64Array {
    return Float64Array.from(
      this.#samples * FRAMES_PER_SECOND > this.#frame * this.rate
        ? [...this.#powers, this.#sum]
        : this.#powers,
    );
  }
}

/** How far apart two envelopes are looked for: a third of a second. */
const MOST_SHIFT = 25;

/** A shift counts only when it is clearly better than none: a steady sound is alike at every shift. */
const CLEARLY = 0.01;

/** How alike two envelopes are where they lie, 0 to 1, and the shift (in frames) at which they are clearly more so; else 0. */
export function compareEnvelopes(
  found: Float64Array,
  wanted: Float64Array,
): { likeness: number; shift: number } {
  const likeness = likenessAt(found, wanted, 0);
  let best = { likeness: likeness + CLEARLY, shift: 0 };
  for (let shift = -MOST_SHIFT; shift <= MOST_SHIFT; shift++) {
    const shifted = likenessAt(found, wanted, shift);
    if (shifted > best.likeness) best = { likeness: shifted, shift };
  }
  return { likeness, shift: best.shift };
}

/** Normalised correlation of the amplitudes; two silent stretches are alike. */
function likenessAt(found: Float64Array, wanted: Float64Array, shift: number): number {
  let both = 0;
  let a = 0;
  let b = 0;
  const length = Math.max(found.length, wanted.length);
  for (let i = 0; i < length; i++) {
    const x = Math.sqrt(found[i + shift] ?? 0);
    const y = Math.sqrt(wanted[i] ?? 0);
    both += x * y;
    a += x * x;
    b += y * y;
  }
  const whole = Math.sqrt(a * b);
  if (whole === 0) return a === b ? 1 : 0;
  return both / whole;
}
