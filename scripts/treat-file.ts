// Lets one master through a treatment and gives the sound away, for the bench: six bands, a compressor, a limiter that works.
import { readThrough, treated, treatmentSchema } from '@oiseau/core';
import { openMaster } from '@oiseau/host';

const treatment = treatmentSchema.parse({
  equaliser: [
    { kind: 'low-cut', hz: 25, slope: 12 },
    { kind: 'low-shelf', hz: 110, db: 1.5, q: 0.7 },
    { kind: 'bell', hz: 320, db: -2, q: 1.2 },
    { kind: 'bell', hz: 1800, db: 1, q: 0.8 },
    { kind: 'bell', hz: 5200, db: -1.5, q: 2 },
    { kind: 'high-shelf', hz: 9000, db: 2, q: 0.7 },
  ],
  compressor: { threshold: -24, ratio: 2, attack: 20, release: 200, knee: 6, makeup: 2 },
  limiter: { drive: 4, ceiling: -1, release: 80 },
});
const { source, close } = await openMaster(process.argv[2] ?? '');
let peak = 0;
await readThrough(treated(source, treatment), ({ left }) => (peak = Math.max(peak, left[0] ?? 0)));
process.stdout.write(`${peak}\n`);
await close();
