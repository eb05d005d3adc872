import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { expect, it } from 'vitest';

it('the compiled kernels are those of their source', () => {
  const script = join(import.meta.dirname, 'script.mjs');
  const { status, stderr } = spawnSync(process.execPath, [script, 'kernels', '--check'], {
    encoding: 'utf8',
  });
  expect([status, stderr]).toEqual([0, '']);
});
