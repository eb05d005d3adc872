/** A second-order section, a0 = 1: `y = b0·x + b1·x₁ + b2·x₂ − a1·y₁ − a2·y₂`. */
export interface Biquad {
  readonly b0: number;
  readonly b1: number;
  readonly b2: number;
  readonly a1: number;
  readonly a2: number;
}
