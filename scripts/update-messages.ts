// npm run messages: gives every catalogue the texts of the source, new ones empty, and takes out those that are gone.
import { writeFileSync } from 'node:fs';
import { catalogueFile, CATALOGUES, readCatalogue, sourceTexts, textsFor } from './messages.js';

const texts = sourceTexts();
for (const language of Object.keys(CATALOGUES)) {
  const known = readCatalogue(language);
  const wanted = textsFor(language, texts);
  const updated = Object.fromEntries(wanted.map((text) => [text, known[text] ?? '']));
  writeFileSync(catalogueFile(language), `${JSON.stringify(updated, null, 2)}\n`);
  const missing = wanted.filter((text) => !known[text]);
  console.log(`${language}: ${wanted.length} texts, ${missing.length} to translate`);
}
