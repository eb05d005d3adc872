// Writes docs/album-file.schema.json; with --check it only says whether the file is up to date.
import { readFile, writeFile } from 'node:fs/promises';
import { albumFileJsonSchema } from '@oiseau/core';

const path = 'docs/album-file.schema.json';
const wanted = `${JSON.stringify(albumFileJsonSchema(), null, 2)}\n`;
if (process.argv.includes('--check')) {
  if ((await readFile(path, 'utf8').catch(() => '')) !== wanted) {
    console.error(`${path} is out of date: run npm run schema.`);
    process.exitCode = 1;
  }
} else {
  await writeFile(path, wanted);
}
