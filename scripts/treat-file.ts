// Lets one master through a treatment and gives the sound away, for the bench: six bands, a compressor, a limiter that works; by as many threads as a render takes.
import { fileURLToPath } from 'node:url';
import { layOutAlbum } from '@oiseau/album/layout';
import { MAIN, newAlbum, newSong, sequenceOfAlternate } from '@oiseau/album/model';
import { Programme, ReadAhead } from '@oiseau/render';
import { readThrough } from '@oiseau/audio/measure';
import { treatmentSchema } from '@oiseau/audio/stages';
import { openMaster, Threads } from '@oiseau/host';

const sound = treatmentSchema.parse({
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
const threads = new Threads(fileURLToPath(new URL('render-thread.mjs', import.meta.url)), undefined, true);
const { source, close } = await openMaster(process.argv[2] ?? '');
const { rate, format } = source;
const masters = new Map([['m', source]]);
const song = newSong('t', 'm', 'Bench');
const [part] = layOutAlbum(
  { ...newAlbum('Bench'), songs: [{ ...song, region: { ...song.region, sound } }] },
  masters,
);
if (!part) throw new Error('no part');
const sequence = sequenceOfAlternate(part, MAIN);
const programme = new Programme(sequence, masters, rate);
const stretches = threads.stretches({ p: { sequence, rate } }, masters);
if (!stretches) throw new Error('no file');
const ahead = new ReadAhead('p', programme, stretches, programme.length);
let peak = 0;
await readThrough(
  { rate, format, length: programme.length, read: (...at) => ahead.read(...at) },
  ({ left }) => (peak = Math.max(peak, left[0] ?? 0)),
);
process.stdout.write(`${peak}\n`);
await ahead.close();
await threads.close();
await close();
