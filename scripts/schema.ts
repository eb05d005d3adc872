// Writes the JSON Schemas of docs/; with --check it only says whether they are up to date.
import { readFile, writeFile } from 'node:fs/promises';
import { albumFileJsonSchema } from '@oiseau/album/file';
import { releaseJsonSchema } from '@oiseau/formats/papers';

const SCHEMAS = {
  'docs/album-file.schema.json': albumFileJsonSchema(),
  'docs/release.schema.json': releaseJsonSchema(),
};
for (const [path, schema] of Object.entries(SCHEMAS)) {
  const wanted = `${JSON.stringify(schema, null, 2)}\n`;
  if (!process.argv.includes('--check')) await writeFile(path, wanted);
  else if ((await readFile(path, 'utf8').catch(() => '')) !== wanted) {
    console.error(`${path} is out of date: run npm run schema.`);
    process.exitCode = 1;
  }
}
