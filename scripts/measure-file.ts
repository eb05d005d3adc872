// Measures one master as the worker does, for the bench: all meters, one pass.
import { MasterMeters, readThrough } from '@oiseau/core';
import { openMaster } from '@oiseau/host';

const { source, close } = await openMaster(process.argv[2] ?? '');
const meters = new MasterMeters(source.rate, source.format, source.length);
await readThrough(source, (block) => meters.push(block));
process.stdout.write(`${JSON.stringify(meters.result().measurement)}\n`);
await close();
