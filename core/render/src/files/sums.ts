import { msg } from '@oiseau/messages';
import { bagPath, manifestLine, readManifest } from '@oiseau/formats/papers';
import type { PlannedSums } from '../planned.js';
import type { FileKind } from './file-kind.js';
import { equal } from './tests.js';

/** How a path stands in the list. */
const pathIn: Readonly<Record<PlannedSums['form'], (path: string) => string>> = {
  plain: (path) => path,
  bag: bagPath,
};

/** Sums of other files. For the proof they are taken anew from what lies in the folder, and laid against what is read in it. */
export const sumsFile: FileKind<PlannedSums> = {
  words: ({ of }) => msg('checksums of {files, plural, one {# file} other {# files}}', { files: of.length }),
  bytes: async ({ of, form }, { ports }) => {
    const lines: string[] = [];
    for (const path of of) lines.push(manifestLine(await ports.digest(path, 'sha256'), pathIn[form](path)));
    return new TextEncoder().encode(lines.join(''));
  },
  prove: async ({ of, form }, source, { ports }) => {
    const text = new TextDecoder('utf-8', { fatal: true }).decode(await source.read(0, source.size));
    const found = readManifest(text);
    const wrong: string[] = [];
    for (const path of of)
      if (found.get(pathIn[form](path)) !== (await ports.digest(path, 'sha256'))) wrong.push(path);
    const strange = [...found.keys()].filter((path) => !of.some((each) => pathIn[form](each) === path));
    return [equal('checksums', [...wrong, ...strange].join(' ') || 'in order', 'in order')];
  },
};
