// AssemblyScript: see core/kernels/README.md.

/**
 * Half-band low-pass and every second sample of one channel, whose even and odd samples lie apart. Computes a multiple of eight outputs:
 * there is room for those beyond `count`.
 * @param table the weights of odd taps, from the middle outwards; `taps` of them, an even number
 * @param even sample under the first output's middle tap
 * @param odd the sample after it; as many as there are taps lie before it
 */
export function halve(
  table: usize,
  taps: i32,
  centre: f64,
  count: i32,
  even: usize,
  odd: usize,
  out: usize,
): void {
  const middle = f64x2.splat(centre);
  for (let i = 0; i < count; i += 8) {
    // Eight outputs share each weight: as many sums as the processor can keep under way.
    let a = f64x2.mul(middle, v128.load(even));
    let b = f64x2.mul(middle, v128.load(even, 16));
    let c = f64x2.mul(middle, v128.load(even, 32));
    let d = f64x2.mul(middle, v128.load(even, 48));
    let after = odd;
    let before = odd - 16;
    let w = table;
    for (let t = 0; t < taps; t += 2) {
      const first = v128.load64_splat(w);
      a = f64x2.add(a, f64x2.mul(first, f64x2.add(v128.load(before, 8), v128.load(after))));
      b = f64x2.add(b, f64x2.mul(first, f64x2.add(v128.load(before, 24), v128.load(after, 16))));
      c = f64x2.add(c, f64x2.mul(first, f64x2.add(v128.load(before, 40), v128.load(after, 32))));
      d = f64x2.add(d, f64x2.mul(first, f64x2.add(v128.load(before, 56), v128.load(after, 48))));
      const second = v128.load64_splat(w, 8);
      a = f64x2.add(a, f64x2.mul(second, f64x2.add(v128.load(before), v128.load(after, 8))));
      b = f64x2.add(b, f64x2.mul(second, f64x2.add(v128.load(before, 16), v128.load(after, 24))));
      c = f64x2.add(c, f64x2.mul(second, f64x2.add(v128.load(before, 32), v128.load(after, 40))));
      d = f64x2.add(d, f64x2.mul(second, f64x2.add(v128.load(before, 48), v128.load(after, 56))));
      w += 16;
      after += 16;
      before -= 16;
    }
    v128.store(out, a);
    v128.store(out, b, 16);
    v128.store(out, c, 32);
    v128.store(out, d, 48);
    even += 64;
    odd += 64;
    out += 64;
  }
}

/** Parts a channel into its even and its odd samples; `count` of each, or one more. */
export function part(audio: usize, count: i32, even: usize, odd: usize): void {
  for (let i = 0; i < count; i += 2) {
    const a = v128.load(audio + ((<usize>i) << 4));
    const b = v128.load(audio + ((<usize>i) << 4), 16);
    v128.store(even + ((<usize>i) << 3), v128.shuffle<f64>(a, b, 0, 2));
    v128.store(odd + ((<usize>i) << 3), v128.shuffle<f64>(a, b, 1, 3));
  }
}
