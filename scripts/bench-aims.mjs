// What `npm run bench` is to reach, and how a run stands beside its aims and beside the last one.

/** Each work, where its figure lies in the results of a run, and the aim; all but milliseconds and gigabytes are ratios within one run. */
export const AIMS = [
  {
    work: '10 min of 96 kHz to a 16-bit image, written / FFmpeg with its best resampler',
    of: ({ from96kHz }) => from96kHz?.ratioToFfmpegBest,
    aim: 0.6,
  },
  {
    work: 'the same, proved',
    of: ({ from96kHz: of }) => of && of.oiseau.withProofSeconds / of.ffmpegBest.seconds,
    aim: 1,
  },
  {
    work: 'an hour of 44.1 kHz to a proved image / copying and SHA-256',
    of: ({ againstCopying }) => againstCopying?.ratio,
    aim: 1,
  },
  {
    work: 'an hour of 96 kHz to a disc description and FLAC, proved / FFmpeg doing and reading back the same',
    of: ({ sitting }) => sitting?.ratio,
    aim: 0.6,
  },
  {
    work: 'measuring 10 min of 96 kHz / ebur128=peak=true',
    of: ({ measuring }) => measuring?.ratioToFfmpeg,
    aim: 0.3,
  },
  {
    work: 'six bands, compressor and limiter at 96 kHz / FFmpeg’s',
    of: ({ treating }) => treating?.ratioToFfmpeg,
    aim: 0.5,
  },
  {
    work: 'memory of a render of 12 h, GB',
    of: ({ parts }) => parts && parts.renderAll.peakMb / 1000,
    aim: 0.4,
  },
  {
    work: 'an edit on 99 tracks until drawn, ms',
    of: ({ views }) => views?.sequences['Ninety-nine']?.editMs.median,
    aim: 25,
  },
  {
    work: 'first paint, warm, ms',
    of: ({ views }) => views?.sequences['Ninety-nine']?.firstPaintMs.warm,
    aim: 500,
  },
];

const shown = (value) =>
  typeof value === 'number' && Number.isFinite(value) ? String(Math.round(value * 100) / 100) : '–';

/** A table of what was measured in this run: each figure beside its aim, and beside the last run on this machine. @param last its results, or null */
export function standing(results, last) {
  const rows = AIMS.flatMap(({ work, of, aim }) => {
    const now = of(results);
    return typeof now === 'number'
      ? [[work, shown(now), shown(aim), shown(last ? of(last) : undefined)]]
      : [];
  });
  if (rows.length === 0) return '';
  const all = [['work', 'now', 'aim', 'last'], ...rows];
  const widths = [0, 1, 2, 3].map((column) => Math.max(...all.map((row) => row[column].length)));
  return all
    .map((row) =>
      row.map((cell, i) => (i === 0 ? cell.padEnd(widths[i]) : cell.padStart(widths[i]))).join('  '),
    )
    .join('\n');
}

/**
 * The run of three whose figure is the median: what a machine does beside it makes one run slow, and never two fast.
 * @param work does it once
 * @param figureOf what is told of a run
 */
export async function medianOfThree(work, figureOf) {
  const runs = [];
  for (let i = 0; i < 3; i++) runs.push(await work());
  return runs.sort((a, b) => figureOf(a) - figureOf(b))[1];
}
