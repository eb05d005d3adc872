import { applyFade, type Block, type Programme } from '@oiseau/core';
import type { AudioChunk, Heard } from './protocol.js';

/**
 * The first chunk is short, so that sound starts at once; each one after it is twice as long, up to a second, so that
 * it is ready before the one before has been heard.
 */
export const FIRST_CHUNK = 588 * 5;
const LONGEST_CHUNK = 588 * 75;
/** While single stretches are heard, chunks stay short, so that an edit is heard soon. */
const LONGEST_CHUNK_OF_STRETCH = 588 * 10;
/** Where a stretch begins or ends, and where an edit takes over, the sound changes over so many samples: no click. */
export const RAMP = 353;

/**
 * One playing, from a press of play to its end: the programme cut into chunks, sample for sample what is rendered before
 * dither. Of single stretches only the edges are ramped.
 */
export class Feed {
  #position: number;
  #chunk = FIRST_CHUNK;
  #stretch = 0;
  /** The programme before the last edit, until its sound has been faded over to the new one. */
  #earlier: Programme | undefined;

  /** @param from sample of the programme to start at */
  constructor(
    readonly run: number,
    from: number,
    private programme: Programme,
    private heard: Heard | null,
  ) {
    this.#position = from;
  }

  /** Whether single stretches are heard. */
  get ofStretches(): boolean {
    return this.heard !== null;
  }

  /** Goes on with an edited programme from where it is. */
  use(programme: Programme): void {
    // Of several edits in a row, what was heard last is the one to go over from.
    this.#earlier ??= this.programme;
    this.programme = programme;
  }

  /** Other stretches, after an edit that moved them. */
  hearInstead(heard: Heard): void {
    this.heard = heard;
    this.#stretch = Math.min(this.#stretch, heard.stretches.length - 1);
  }

  /** The next chunk; null when everything was given. */
  async next(): Promise<AudioChunk | null> {
    const position = this.#seek();
    if (position === null) return null;
    const stretch = this.heard?.stretches[this.#stretch];
    const end = this.#end();
    const count = Math.min(this.#chunk, end - position);
    // An edit may come while this is computed: it is heard from the next chunk on.
    const { programme } = this;
    const earlier = this.#earlier;
    this.#earlier = undefined;
    const block = await programme.read(position, count);
    if (earlier) await fadeOver(block, earlier, position);
    const ends = position + count >= end;
    if (stretch && position === stretch.start) ramp(block, 'in');
    if (stretch && ends) ramp(block, 'out');
    this.#position = position + count;
    this.#chunk = Math.min(this.heard ? LONGEST_CHUNK_OF_STRETCH : LONGEST_CHUNK, 2 * this.#chunk);
    return {
      run: this.run,
      position,
      left: Float32Array.from(block.left),
      right: Float32Array.from(block.right),
      last: ends && !this.#hasNext(),
    };
  }

  #end(): number {
    return Math.min(this.programme.length, this.heard?.stretches[this.#stretch]?.end ?? Infinity);
  }

  #hasNext(): boolean {
    return this.heard !== null && (this.heard.loop || this.#stretch + 1 < this.heard.stretches.length);
  }

  /** The next sample to give, in the next stretch where this one has been given; null at the end of everything. */
  #seek(): number | null {
    if (this.#position < this.#end()) return this.#position;
    if (!this.heard || !this.#hasNext()) return null;
    this.#stretch = (this.#stretch + 1) % this.heard.stretches.length;
    this.#position = this.heard.stretches[this.#stretch]?.start ?? 0;
    return this.#position < this.#end() ? this.#position : null;
  }
}

/** After an edit the first samples go over from what would have been heard to what is heard now. */
async function fadeOver({ left, right }: Block, earlier: Programme, position: number): Promise<void> {
  const count = Math.min(RAMP, left.length);
  const old = await earlier.read(position, count);
  for (let i = 0; i < count; i++) {
    const share = (i + 0.5) / count;
    left[i] = share * (left[i] ?? 0) + (1 - share) * (old.left[i] ?? 0);
    right[i] = share * (right[i] ?? 0) + (1 - share) * (old.right[i] ?? 0);
  }
}

/** A short fade at the edge of a stretch. */
function ramp({ left, right }: Block, direction: 'in' | 'out'): void {
  const count = Math.min(RAMP, left.length);
  for (const audio of [left, right])
    applyFade(audio, direction === 'in' ? 0 : count - audio.length, count, 'linear', direction);
}
