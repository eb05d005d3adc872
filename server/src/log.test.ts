import { mkdtemp, readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { clearOldLogs, openLog } from './log.js';

let data: string;
beforeEach(async () => {
  data = await mkdtemp(join(tmpdir(), 'oiseau-log-'));
});
afterEach(() => rm(data, { recursive: true, force: true }));

it('lies in a file for each day, which its owner alone can read', async () => {
  let now = new Date('2026-11-26T23:59:59Z');
  const levels = { level: 'info', terminal: 'fatal' };
  const log = openLog(data, 'server', levels, () => now);
  log.info({ url: '/x' }, 'before midnight');
  log.debug('not asked for');
  now = new Date('2026-11-27T00:00:01Z');
  log.error('after midnight');
  openLog(data, 'worker', levels, () => now).error('from another program');
  const logs = join(data, 'logs');
  expect((await readdir(logs)).sort()).toEqual(['oiseau-2026-11-26.log', 'oiseau-2026-11-27.log']);
  const linesOf = async (name: string): Promise<unknown[]> =>
    (await readFile(join(logs, name), 'utf8'))
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as unknown);
  expect(await linesOf('oiseau-2026-11-26.log')).toMatchObject([
    { name: 'server', level: 30, url: '/x', msg: 'before midnight' },
  ]);
  expect(await linesOf('oiseau-2026-11-27.log')).toMatchObject([
    { name: 'server', level: 50, msg: 'after midnight' },
    { name: 'worker', msg: 'from another program' },
  ]);
  expect((await stat(join(logs, 'oiseau-2026-11-27.log'))).mode & 0o077).toBe(0);
});

it('goes after thirty days; what people put beside it stays', async () => {
  openLog(data, 'server', { level: 'info', terminal: 'fatal' }, () => new Date('2026-10-26T12:00:00Z')).info(
    'old',
  );
  openLog(data, 'server', { level: 'info', terminal: 'fatal' }, () => new Date('2026-10-28T12:00:00Z')).info(
    'young',
  );
  await writeFile(join(data, 'logs', 'mine.log'), '');
  await clearOldLogs(data, Date.parse('2026-11-26T12:00:00Z'));
  expect((await readdir(join(data, 'logs'))).sort()).toEqual(['mine.log', 'oiseau-2026-10-28.log']);
});
