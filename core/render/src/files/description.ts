import { msg, type Message } from '@oiseau/messages';
import { CD_TEXT_FIELDS } from '@oiseau/album/model';
import {
  type CdTextBlock,
  checksumLines,
  DDP_CD_TEXT,
  DDP_ID,
  DDP_MAP,
  DDP_MARKS,
  DDP_SUMS,
  ddpBytes,
  ddpNames,
  summedPaths,
  type DdpDisc,
  type DdpName,
  readDdp,
  type DdpFound,
  type DdpMarkFound,
} from '@oiseau/formats/disc';
import { formatMsf } from '@oiseau/audio/time';
import type { PlannedDescription } from '../planned.js';
import type { RenderPorts } from '../ports.js';
import type { ProofTest } from '../proof-file.js';
import type { FileKind } from './file-kind.js';
import { equal } from './tests.js';

/** One of the files that describe an image, read back with the core's reader and laid against the album. */
export const descriptionFile: FileKind<PlannedDescription> = {
  words: ({ name, disc }) => WORDS[name](disc),
  bytes: async ({ name, disc, folder }, { ports }) => {
    if (name !== DDP_SUMS) return ddpBytes(name, disc);
    const sums: { path: string; md5: string }[] = [];
    for (const path of summedPaths(disc)) sums.push({ path, md5: await ports.digest(folder + path, 'md5') });
    return new TextEncoder().encode(checksumLines(sums));
  },
  prove: async ({ name, disc, folder }, _source, { ports, once }) =>
    TESTS[name](await once(`${folder}${DDP_MAP}`, () => readBack(disc, folder, ports)), disc),
};

const WORDS: Readonly<Record<DdpName, (disc: DdpDisc) => Message>> = {
  DDPID: () => msg('identity'),
  DDPMS: () => msg('map of the streams'),
  PQDESCR: ({ marks }) => msg('{count} marks', { count: marks.length + 2 }),
  'CDTEXT.BIN': () => msg('CD-Text'),
  MD5SUMS: () => msg('checksums'),
};

function readBack(disc: DdpDisc, folder: string, ports: RenderPorts): Promise<DdpFound> {
  const paths = [...summedPaths(disc), ...ddpNames(disc)] as string[];
  return readDdp({
    open: async (path) => (paths.includes(path) ? ports.openFile(folder + path) : null),
    md5: (path) => ports.digest(folder + path, 'md5'),
  });
}

const marksOf = (marks: readonly Pick<DdpMarkFound, 'track' | 'index' | 'frames'>[]): string =>
  marks.map(({ track, index, frames }) => `${track}.${index}@${formatMsf(frames)}`).join(' ');
const codesOf = (upc: string, marks: readonly { index: number; isrc: string }[]): string =>
  [upc, ...marks.filter(({ index }) => index === 1).map(({ isrc }) => isrc)].join(' | ');
const end = (leadOut: DdpMarkFound['frames'] | null): string => (leadOut === null ? '–' : formatMsf(leadOut));

/** Everything that blocks of CD-Text say, in one line each. */
const textOf = (blocks: readonly CdTextBlock[]): string =>
  blocks
    .map(({ charset, language, texts, discId, genre, codes }) =>
      [
        `${charset} ${language}`,
        ...CD_TEXT_FIELDS.map((field) => texts[field]?.join(' / ') ?? ''),
        discId,
        `${genre.code} ${genre.code === 0 ? '' : genre.text}`,
        codes?.join(' / ') ?? '',
      ].join(' | '),
    )
    .join('\n');

const TESTS: Readonly<Record<DdpName, (found: DdpFound, wanted: DdpDisc) => ProofTest[]>> = {
  [DDP_ID]: (found, disc) => [
    equal('codes', found.upc, disc.upc),
    equal('text', found.masterId, disc.masterId),
  ],
  [DDP_MAP]: (found, disc) => [equal('length', found.sectors, disc.leadOut)],
  [DDP_MARKS]: (found, disc) => [
    equal(
      'marks',
      `${marksOf(found.marks)} AA@${end(found.leadOut)}`,
      `${marksOf(disc.marks)} AA@${end(disc.leadOut)}`,
    ),
    equal('codes', codesOf(found.upc, found.marks), codesOf(disc.upc, disc.marks)),
    equal(
      'flags',
      found.marks.map((mark) => Number(mark.preEmphasis) + 2 * Number(mark.copyPermitted)).join(''),
      disc.marks.map(({ control }) => control).join(''),
    ),
  ],
  [DDP_CD_TEXT]: (found, disc) => [equal('text', textOf(found.cdText), textOf(disc.cdText))],
  [DDP_SUMS]: (found) => [equal('checksums', found.problems.join(' ') || 'in order', 'in order')],
};
