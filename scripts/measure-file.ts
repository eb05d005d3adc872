// Measures one master as the worker does, for the bench: all meters, one pass, in stretches by as many threads as there are cores.
import { fileURLToPath } from 'node:url';
import { measureMaster } from '@oiseau/audio/measure';
import { openMaster, Threads } from '@oiseau/host';

const threads = new Threads(fileURLToPath(new URL('render-thread.mjs', import.meta.url)));
const { source, close } = await openMaster(process.argv[2] ?? '');
const { measurement } = await measureMaster(source, threads.measurer());
process.stdout.write(`${JSON.stringify(measurement)}\n`);
await threads.close();
await close();
