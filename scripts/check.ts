// npm run check: types, lint and unit tests of what has changed since the last commit, or since the commit that is named.
import { execFileSync, spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './build.mjs';

const since = process.argv[2] ?? 'HEAD';
const git = (...args: string[]): string[] =>
  execFileSync('git', args, { cwd: ROOT, encoding: 'utf8' }).split('\n');
const changed = [
  ...git('diff', '--name-only', since),
  ...git('ls-files', '--others', '--exclude-standard'),
].filter((path) => path !== '' && existsSync(join(ROOT, path)));
const sources = changed.filter((path) => /\.(tsx?|mjs|js)$/.test(path));
const units = sources.filter((path) => /\.tsx?$/.test(path) && !/^(server|e2e)\//.test(path));

/** A step beside others; what it says comes at its end, in one piece. */
async function step(name: string, args: readonly string[]): Promise<boolean> {
  const child = spawn('npx', ['--no-install', ...args], { cwd: ROOT, stdio: ['ignore', 'pipe', 'pipe'] });
  let said = '';
  for (const stream of [child.stdout, child.stderr])
    stream.on('data', (text: Buffer) => (said += text.toString()));
  const [status] = (await once(child, 'close')) as [number | null];
  if (status !== 0) console.log(said);
  console.log(`${status === 0 ? 'ok    ' : 'FAILED'} ${name}`);
  return status === 0;
}

const results = await Promise.all([
  step('types', ['tsc', '-b']),
  (async () => {
    if (sources.length === 0) return true;
    const linted = await step('lint', ['eslint', '--max-warnings', '0', '--no-warn-ignored', ...sources]);
    const formatted = await step('format', [
      'prettier',
      '--check',
      '--ignore-unknown',
      '--log-level',
      'warn',
      ...changed,
    ]);
    const tested =
      units.length === 0 ||
      (await step('tests', [
        'vitest',
        'related',
        '--run',
        '--project',
        'unit',
        '--project',
        'web',
        ...units,
      ]));
    return linted && formatted && tested;
  })(),
]);
process.exitCode = results.every(Boolean) ? 0 : 1;
