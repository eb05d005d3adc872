import { applyFade } from '@oiseau/audio/dsp';
import type { Block } from '@oiseau/audio/pcm';
import type { Programme } from '@oiseau/render';
import type { AudioChunk, Heard } from './protocol.js';
import { RAMP } from './ramp.js';

/**
 * The first chunk is short, so that sound starts at once; each one after it is twice as long, up to a second, so that
 * it is ready before the one before has been heard.
 */
export const FIRST_CHUNK = 588 * 5;
const LONGEST_CHUNK = 588 * 75;
/** While single stretches are heard, chunks stay short, so that an edit is heard soon. */
const LONGEST_CHUNK_OF_STRETCH = 588 * 10;

/** As many chunks are remembered: more than ever wait to be heard. */
const MOST_GIVEN = 60;

/** What is played, and what is heard instead by one key. */
export interface Programmes {
  readonly own: Programme;
  readonly other: Programme | null;
}

/**
 * One playing, from a press of play to its end: the programme cut into chunks, sample for sample what is rendered before
 * dither. Of single stretches only the edges are ramped.
 */
export class Feed {
  #position: number;
  #chunk = FIRST_CHUNK;
  #stretch = 0;
  /** Samples of the run that were given. */
  #time = 0;
  /** What was given last, so that a place that is heard can be found again. */
  #given: { readonly time: number; readonly position: number; readonly stretch: number }[] = [];
  /** Grows when playback continues elsewhere: pending work is void. */
  #turn = 0;

  /** @param from sample of the programme to start at */
  constructor(
    readonly run: number,
    from: number,
    private programmes: Programmes,
    private heard: Heard | null,
  ) {
    this.#position = from;
  }

  /** Samples of the run that were given up to now. */
  get time(): number {
    return this.#time;
  }

  /** What is given from here on. */
  use(programmes: Programmes): void {
    this.programmes = programmes;
  }

  /** Goes back to a time of the run, where what was given is heard only a moment later: what follows takes the place of the rest. */
  goBackTo(time: number): void {
    const at = this.#given.findLast((each) => each.time <= time);
    if (!at || time >= this.#time) return;
    this.#turn++;
    this.#position = at.position + time - at.time;
    this.#stretch = at.stretch;
    this.#time = time;
    this.#chunk = FIRST_CHUNK;
    this.#given = this.#given.filter((each) => each.time <= time);
  }

  /** Other stretches, after an edit that moved them. */
  hearInstead(heard: Heard): void {
    this.heard = heard;
    this.#stretch = Math.min(this.#stretch, heard.stretches.length - 1);
  }

  /** The next chunk; null when everything was given. */
  async next(): Promise<AudioChunk | null> {
    for (;;) {
      const turn = this.#turn;
      const position = this.#seek();
      if (position === null) return null;
      const stretch = this.heard?.stretches[this.#stretch];
      const end = this.#end();
      const count = Math.min(this.#chunk, end - position);
      // An edit may come while this is computed: it is heard from the next chunk on.
      const { own, other } = this.programmes;
      const block = await own.read(position, count);
      const instead = other ? await other.read(position, count) : null;
      // Meanwhile it went on from elsewhere.
      if (turn !== this.#turn) continue;
      const ends = position + count >= end;
      for (const each of [block, instead]) {
        if (!each || !stretch) continue;
        if (position === stretch.start) ramp(each, 'in');
        if (ends) ramp(each, 'out');
      }
      const time = this.#time;
      this.#given = [...this.#given.slice(-MOST_GIVEN), { time, position, stretch: this.#stretch }];
      this.#time += count;
      this.#position = position + count;
      this.#chunk = Math.min(this.heard ? LONGEST_CHUNK_OF_STRETCH : LONGEST_CHUNK, 2 * this.#chunk);
      return {
        ...{ run: this.run, time, position },
        ...singles(block),
        other: instead && singles(instead),
        last: ends && !this.#hasNext(),
      };
    }
  }

  #end(): number {
    return Math.min(this.programmes.own.length, this.heard?.stretches[this.#stretch]?.end ?? Infinity);
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

const singles = ({ left, right }: Block) => ({
  left: Float32Array.from(left),
  right: Float32Array.from(right),
});

/** A short fade at the edge of a stretch. */
function ramp({ left, right }: Block, direction: 'in' | 'out'): void {
  const count = Math.min(RAMP, left.length);
  for (const audio of [left, right])
    applyFade(audio, direction === 'in' ? 0 : count - audio.length, count, 'linear', direction);
}
