import { msg } from '@oiseau/messages';
import { readPlaylist, writePlaylist } from '@oiseau/formats/papers';
import type { PlannedPlaylist } from '../planned.js';
import type { FileKind } from './file-kind.js';
import { equal } from './tests.js';

/** The files of tracks in order, for players; read back, each must be there. */
export const playlistFile: FileKind<PlannedPlaylist> = {
  words: () => msg('playlist'),
  bytes: ({ entries }) => Promise.resolve(new TextEncoder().encode(writePlaylist(entries))),
  prove: async ({ entries }, source, { ports }) => {
    const bytes = await source.read(0, source.size);
    const found = readPlaylist(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
    for (const { path } of found) await ports.openFile(path);
    return [
      equal('text', found.map(({ path }) => path).join(' | '), entries.map(({ path }) => path).join(' | ')),
    ];
  },
};
