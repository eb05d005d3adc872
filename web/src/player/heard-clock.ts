/** Positions further than this from where they should be have jumped: to another stretch, or over a gap in the sound. */
const JUMP_MS = 80;

/**
 * Where the sound is at any moment between two reports of it. A report may come late, while the page is busy, but never early: of all
 * that belong together the one that puts the sound furthest on is the one that came soonest.
 */
export class HeardClock {
  /** Place in the programme less the moment at which it was reached, ms. */
  #lead: number | null = null;

  /** Forgets everything: another run begins. */
  reset(): void {
    this.#lead = null;
  }

  /** @param placeMs in the programme, reported at `nowMs` of the page's clock */
  report(placeMs: number, nowMs: number): void {
    const lead = placeMs - nowMs;
    const goesOn = this.#lead !== null && Math.abs(lead - this.#lead) < JUMP_MS;
    this.#lead = goesOn ? Math.max(lead, this.#lead ?? lead) : lead;
  }

  /** The place at a moment; null before the first report. */
  placeAt(nowMs: number): number | null {
    return this.#lead === null ? null : nowMs + this.#lead;
  }
}
