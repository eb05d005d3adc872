import { join } from 'node:path';
import { listFile, startStandins } from './start.js';

/* The stand-ins as a program: run by scripts/run.ts, which is told where they listen. */

const data = process.env.OISEAU_DATA ?? 'data';
const folder = join(data, 'standins');
const { close } = await startStandins(folder, Number(process.env.OISEAU_STANDIN_PACE_MS ?? 1000));
process.send?.({ list: listFile(folder) });

const end = (): void => void close().then(() => process.exit(0));
process.on('SIGTERM', end);
process.on('SIGINT', end);
// The parent process has ended.
process.on('disconnect', end);
