import { hostname } from 'node:os';

/** What this machine is called beside the number of a worker's process. */
export const machineName = (): string => hostname().replaceAll(':', '-').slice(0, 60);
