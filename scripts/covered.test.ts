import { execFileSync } from 'node:child_process';
import { join, relative, resolve } from 'node:path';
import { ESLint } from 'eslint';
import ts from 'typescript';
import { expect, it } from 'vitest';
const ROOT = resolve(import.meta.dirname, '..');
const tracked = (...patterns: string[]): string[] =>
  execFileSync('git', ['ls-files', '--', ...patterns], { cwd: ROOT, encoding: 'utf8' })
    .split('\n')
    // AssemblyScript has a compiler of its own.
    .filter((path) => path !== '' && !path.startsWith('core/audio/kernels/'));

/** All files of a project and of those that it refers to, as their tsconfig files name them. */
function filesOf(config: string, seen = new Set<string>()): readonly string[] {
  if (seen.has(config)) return [];
  seen.add(config);
  const parsed = ts.getParsedCommandLineOfConfigFile(
    config,
    {},
    {
      ...ts.sys,
      onUnRecoverableConfigFileDiagnostic: ({ messageText }) => {
        throw new Error(ts.flattenDiagnosticMessageText(messageText, ' '));
      },
    },
  );
  const { fileNames = [], projectReferences = [] } = parsed ?? {};
  return [
    ...fileNames.map((file) => relative(ROOT, file)),
    ...projectReferences.flatMap((project) => filesOf(ts.resolveProjectReferencePath(project), seen)),
  ];
}

it('every TypeScript file is in a project that the type check reads', () => {
  const checked = new Set(filesOf(join(ROOT, 'tsconfig.json')));
  expect(checked.size).toBeGreaterThan(500);
  expect(tracked('*.ts', '*.tsx').filter((path) => !checked.has(path))).toEqual([]);
});

it('every source file is linted', async () => {
  const eslint = new ESLint({ cwd: ROOT });
  const ignored: string[] = [];
  for (const path of tracked('*.ts', '*.tsx', '*.mjs', '*.js'))
    if (await eslint.isPathIgnored(join(ROOT, path))) ignored.push(path);
  expect(ignored).toEqual([]);
});

it('every test file is run', () => {
  const run = [
    /^(core\/\w+|api|host|web|cli|demo|standins|server)\/src\/.*\.test\.tsx?$/,
    /^scripts\/.*\.test\.ts$/,
    /^e2e\/[^/]+\.spec\.ts$/,
  ];
  const all = tracked('*.test.ts', '*.test.tsx', '*.spec.ts');
  expect(all.length).toBeGreaterThan(150);
  expect(all.filter((path) => !run.some((pattern) => pattern.test(path)))).toEqual([]);
});
