// npm test: sets up what is missing, then format, lint, types, schema, unit, database and interface tests.
// The last line counts every suite together; the exit status is honest.
import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { mkdir, readFile, rm } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { ensureBuilt, ROOT } from './build.mjs';
import { findProgram, installMissing, NEEDED_FOR_TESTS, Plain } from './system.js';

const RESULTS = join(ROOT, 'test-results');
const UNITS = join(RESULTS, 'vitest.json');
let passed = 0;
let failed = 0;

const npx = (args: readonly string[], env: NodeJS.ProcessEnv = {}): boolean =>
  spawnSync('npx', ['--no-install', ...args], {
    cwd: ROOT,
    stdio: 'inherit',
    env: { ...process.env, ...env },
  }).status === 0;

/** The same beside others; what it says comes at its end, in one piece. */
async function beside(args: readonly string[]): Promise<{ readonly ok: boolean; readonly said: string }> {
  const child = spawn('npx', ['--no-install', ...args], { cwd: ROOT, stdio: ['ignore', 'pipe', 'pipe'] });
  let said = '';
  for (const stream of [child.stdout, child.stderr])
    stream.on('data', (text: Buffer) => (said += text.toString()));
  const [status] = (await once(child, 'close')) as [number | null];
  return { ok: status === 0, said };
}

/** Steps that do not stand in each other's way, one for each core. */
async function steps(all: readonly (readonly [name: string, args: readonly string[]])[]): Promise<void> {
  const waiting = [...all];
  const work = async (): Promise<void> => {
    for (let next = waiting.shift(); next; next = waiting.shift()) {
      const [name, args] = next;
      const { ok, said } = await beside(args);
      if (!ok) console.log(said);
      step(name, ok);
    }
  };
  await Promise.all(Array.from({ length: availableParallelism() }, work));
}

/** A step that either holds or does not. */
function step(name: string, ok: boolean): void {
  console.log(`${ok ? 'ok    ' : 'FAILED'} ${name}`);
  if (ok) passed++;
  else failed++;
}

/** A suite that counts its own tests; one that could not even run counts as a failure. */
async function suite<R>(
  name: string,
  ok: boolean,
  file: string,
  count: (results: R) => { readonly passed: number; readonly failed: number },
): Promise<void> {
  const results = await readFile(file, 'utf8').then(
    (text) => JSON.parse(text) as R,
    () => undefined,
  );
  const counted = results ? count(results) : { passed: 0, failed: 0 };
  passed += counted.passed;
  failed += counted.failed;
  if (!ok && counted.failed === 0) failed++;
  console.log(`${ok ? 'ok    ' : 'FAILED'} ${name}: ${counted.passed} passed, ${counted.failed} failed`);
}

/** Of Vitest's report. */
interface UnitResults {
  readonly numPassedTests: number;
  readonly numFailedTests: number;
}

/** Of Playwright's report. */
interface PageResults {
  readonly stats: { readonly expected: number; readonly unexpected: number; readonly flaky: number };
}

async function main(): Promise<void> {
  installMissing(NEEDED_FOR_TESTS);
  await rm(RESULTS, { recursive: true, force: true });
  await mkdir(RESULTS);
  await ensureBuilt(undefined, (line) => console.log(line));

  await steps([
    ['lint', ['eslint', '--max-warnings', '0', '.']],
    ['format', ['prettier', '--check', '--log-level', 'warn', '.']],
    ['types', ['tsc', '-b']],
  ]);
  step(
    'the schemas in docs/ are up to date',
    spawnSync(process.execPath, ['dist/schema.mjs', '--check'], { cwd: ROOT, stdio: 'inherit' }).status === 0,
  );

  const units = npx(
    ['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${UNITS}`],
    {
      VITEST_MAX_WORKERS: String(availableParallelism()),
    },
  );
  await suite<UnitResults>('unit and database tests', units, UNITS, ({ numPassedTests, numFailedTests }) => ({
    passed: numPassedTests,
    failed: numFailedTests,
  }));

  // Tests that fail on the shortest break in the sound have the machine to themselves.
  for (const [name, only] of [
    ['interface tests', ['--grep-invert', '@heard']],
    ['interface tests of playback', ['--grep', '@heard', '--workers', '1']],
  ] as const) {
    const results = join(RESULTS, `${name}.json`);
    const pages = npx(['playwright', 'test', ...only], {
      OISEAU_CHROMIUM: findProgram('chromium'),
      OISEAU_E2E_RESULTS: results,
    });
    await suite<PageResults>(name, pages, results, ({ stats }) => ({
      passed: stats.expected,
      failed: stats.unexpected + stats.flaky,
    }));
  }
}

try {
  await main();
} catch (error) {
  failed++;
  console.error(error instanceof Plain ? error.message : error);
}
console.log(`${passed} passed, ${failed} failed`);
process.exitCode = failed > 0 ? 1 : 0;
