/**
 * Runs of zeros in a signal that are no shorter than `least`, as pairs of their first sample and the one behind their last. As long as nothing is
 * quiet, only every `least`-th sample is looked at.
 */
export function quietRuns(audio: Float64Array, least: number): [start: number, end: number][] {
  const runs: [number, number][] = [];
  const stride = Math.max(1, least);
  let known = 0;
  // A run that is long enough holds one of these places, whatever lies before the first of them.
  for (let at = stride - 1; at < audio.length; at += stride) {
    if (audio[at] !== 0) continue;
    let start = at;
    while (start > known && audio[start - 1] === 0) start--;
    let end = at + 1;
    while (end < audio.length && audio[end] === 0) end++;
    if (end - start >= least) runs.push([start, end]);
    known = end;
    at += Math.floor((end - 1 - at) / stride) * stride;
  }
  return runs;
}
