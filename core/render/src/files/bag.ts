import { msg } from '@oiseau/messages';
import { BAG_DECLARATION, bagInfo, readBagInfo } from '@oiseau/formats/papers';
import type { PlannedBagFile } from '../planned.js';
import type { RenderPorts } from '../ports.js';
import type { FileKind } from './file-kind.js';
import { equal } from './tests.js';

/** Bytes and number of the files of a payload [RFC 8493 2.2.2]. */
async function oxumOf({ payload }: PlannedBagFile, ports: RenderPorts): Promise<string> {
  let bytes = 0;
  for (const path of payload) bytes += (await ports.openFile(path)).size;
  return `${bytes}.${payload.length}`;
}

/** What a bag says of itself. */
export const bagFile: FileKind<PlannedBagFile> = {
  words: ({ path }) => (path === 'bagit.txt' ? msg('bag declaration') : msg('bag metadata')),
  bytes: async (file, { ports }) => {
    const oxum = ['Payload-Oxum', await oxumOf(file, ports)] as const;
    const text = file.path === 'bagit.txt' ? BAG_DECLARATION : bagInfo([...file.info, oxum]);
    return new TextEncoder().encode(text);
  },
  prove: async (file, source, { ports }) => {
    const text = new TextDecoder('utf-8', { fatal: true }).decode(await source.read(0, source.size));
    const found = readBagInfo(text);
    if (file.path === 'bagit.txt') return [equal('text', found.get('BagIt-Version') ?? null, '1.0')];
    return [equal('checksums', found.get('Payload-Oxum') ?? null, await oxumOf(file, ports))];
  },
};
