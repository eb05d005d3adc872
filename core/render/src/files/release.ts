import { msg } from '@oiseau/messages';
import { encodeRelease, releaseSchema } from '@oiseau/formats/papers';
import type { PlannedRelease } from '../planned.js';
import type { FileKind } from './file-kind.js';
import { equal } from './tests.js';

/** What a shop is told, read back by the published schema and laid against the album. */
export const releaseFile: FileKind<PlannedRelease> = {
  words: ({ release }) =>
    msg('release data of {tracks, plural, one {# track} other {# tracks}}', {
      tracks: release.parts.flatMap(({ tracks }) => tracks).length,
    }),
  bytes: ({ release }) => Promise.resolve(encodeRelease(release)),
  prove: async ({ release }, source) => {
    const text = new TextDecoder('utf-8', { fatal: true }).decode(await source.read(0, source.size));
    const read = releaseSchema.safeParse(JSON.parse(text));
    const fault = read.success ? 'by the schema' : (read.error.issues[0]?.path.join('.') ?? '');
    const codesOf = ({ album, parts }: typeof release): string =>
      [album.upc, ...parts.flatMap(({ tracks }) => tracks.map(({ isrc }) => isrc))].join(' | ');
    const wordsOf = ({ album, parts }: typeof release): string =>
      [album.title, album.performer, ...parts.flatMap(({ tracks }) => tracks.map(({ title }) => title))].join(
        ' | ',
      );
    const found = read.success ? read.data : release;
    return [
      equal('text', fault, 'by the schema'),
      equal('codes', codesOf(found), codesOf(release)),
      equal('tags', wordsOf(found), wordsOf(release)),
    ];
  },
};
