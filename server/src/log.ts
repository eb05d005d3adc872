import { mkdirSync } from 'node:fs';
import { readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { pino, type DestinationStream, type Logger } from 'pino';
import pretty from 'pino-pretty';

/** So many days of the log stay. */
const KEPT_DAYS = 30;
const NAME = /^oiseau-\d{4}-\d{2}-\d{2}\.log$/;

const folderOf = (data: string): string => join(data, 'logs');
const fileOf = (day: string): string => `oiseau-${day}.log`;

/** A file for each day, in UTC. Several programs write to one: each line goes out whole. */
function dailyFile(folder: string, now: () => Date): DestinationStream {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const dayOf = (): string => now().toISOString().slice(0, 10);
  let day = dayOf();
  const open = pino.destination({ dest: join(folder, fileOf(day)), sync: true, mode: 0o600 });
  return {
    write(line) {
      const today = dayOf();
      if (today !== day) {
        day = today;
        open.reopen(join(folder, fileOf(day)));
      }
      open.write(line);
    },
  };
}

/**
 * The log of one of our programs: JSON lines in a file by day in the data folder, and in a terminal what people can read.
 * @param level `silent`, `error`, `info`, `debug`: what goes into the file; the terminal gets no less than an error of it, unless more was asked for
 */
export function openLog(
  data: string,
  program: string,
  { level, terminal }: { readonly level: string; readonly terminal: string },
  now: () => Date = () => new Date(),
): Logger {
  if (level === 'silent') return pino({ level });
  const shown = process.stdout.isTTY ? pretty({ sync: true, ignore: 'pid,hostname' }) : process.stdout;
  return pino(
    { level, name: program },
    pino.multistream([
      { level: level as 'info', stream: dailyFile(folderOf(data), now) },
      { level: terminal as 'info', stream: shown },
    ]),
  );
}

/** Takes away logs of more than thirty days ago; nothing else in their folder is ours. */
export async function clearOldLogs(data: string, now = Date.now()): Promise<void> {
  const oldest = fileOf(new Date(now - KEPT_DAYS * 24 * 3600_000).toISOString().slice(0, 10));
  for (const name of await readdir(folderOf(data)).catch(() => []))
    if (NAME.test(name) && name < oldest) await rm(join(folderOf(data), name), { force: true });
}
