import { execFileSync } from 'node:child_process';
import { join, relative, resolve } from 'node:path';
import { ESLint } from 'eslint';
import ts from 'typescript';
import { expect, it } from 'vitest';
// @ts-expect-error the scripts are plain JavaScript
import * as types from './types.mjs';

const { PROJECTS } = types as { PROJECTS: readonly string[] };
const ROOT = resolve(import.meta.dirname, '..');
const tracked = (...patterns: string[]): string[] =>
  execFileSync('git', ['ls-files', '--', ...patterns], { cwd: ROOT, encoding: 'utf8' })
    .split('\n')
    // AssemblyScript has a compiler of its own.
    .filter((path) => path !== '' && !path.startsWith('core/kernels/'));

/** Files of a project, as its tsconfig.json names them. */
function filesOf(project: string): string[] {
  const path = join(ROOT, project, 'tsconfig.json');
  const { config } = ts.readConfigFile(path, (file) => ts.sys.readFile(file)) as { config: unknown };
  const { fileNames } = ts.parseJsonConfigFileContent(config, ts.sys, join(ROOT, project));
  return fileNames.map((file) => relative(ROOT, file));
}

it('every TypeScript file is in a project that the type check reads', () => {
  const checked = new Set(PROJECTS.flatMap(filesOf));
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
    /^(core|api|host|web|cli|demo|standins|server)\/src\/.*\.test\.tsx?$/,
    /^scripts\/.*\.test\.ts$/,
    /^e2e\/[^/]+\.spec\.ts$/,
  ];
  const all = tracked('*.test.ts', '*.test.tsx', '*.spec.ts');
  expect(all.length).toBeGreaterThan(150);
  expect(all.filter((path) => !run.some((pattern) => pattern.test(path)))).toEqual([]);
});
