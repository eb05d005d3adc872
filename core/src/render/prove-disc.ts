import { CD_TEXT_FIELDS } from '../album/text-fields.js';
import { readCueSheet, type CueSheet } from '../disc/cue-sheet.js';
import type { CdTextBlock } from '../disc/cd-text-packs.js';
import { DDP_IMAGE, DDP_SUMS, ddpPaths, type DdpDisc } from '../disc/ddp.js';
import { readDdp, type DdpMarkFound } from '../disc/ddp-read.js';
import { formatMsf } from '../time/frames.js';
import type { RenderPorts } from './ports.js';
import type { ProofFile, ProofTest } from './proof.js';
import { equal, textFile } from './prove-test.js';

/** Reads a cue sheet back as a stranger would and lays its marks, words and codes against the album's. */
export async function proveSheet(path: string, wanted: CueSheet, ports: RenderPorts): Promise<ProofFile> {
  const source = await ports.openFile(path);
  const found = readCueSheet(
    new TextDecoder('utf-8', { fatal: true }).decode(await source.read(0, source.size)),
  );
  const shown = (text: string): string => text.replace(/"/g, "'").replace(/[\r\n\t]+/g, ' ');
  const words = (sheet: CueSheet): string =>
    [sheet.title, sheet.performer, ...sheet.tracks.flatMap((track) => [track.title, track.performer])]
      .map(shown)
      .join(' | ');
  const marks = (sheet: CueSheet): string =>
    sheet.tracks
      .map(({ indexes }) => indexes.map(({ index, frames }) => `${index}@${formatMsf(frames)}`).join(' '))
      .join(' | ');
  const codes = (sheet: CueSheet): string =>
    [sheet.catalog, ...sheet.tracks.map(({ isrc }) => isrc)].join(' | ');
  return textFile(path, source, ports, [
    equal('marks', marks(found), marks(wanted)),
    equal('text', words(found), words(wanted)),
    equal('codes', codes(found), codes(wanted)),
  ]);
}

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

/** Reads a disc description back with the core's reader and lays it against the album; a file of its own for each part. */
export async function proveDdp(disc: DdpDisc, ports: RenderPorts): Promise<ProofFile[]> {
  const paths = [...ddpPaths(disc), DDP_SUMS];
  const found = await readDdp({
    open: async (path) => (paths.includes(path) ? ports.openFile(path) : null),
    md5: (path) => ports.digest(path, 'md5'),
  });
  const marksOf = (marks: readonly Pick<DdpMarkFound, 'track' | 'index' | 'frames'>[]): string =>
    marks.map(({ track, index, frames }) => `${track}.${index}@${formatMsf(frames)}`).join(' ');
  const codesOf = (upc: string, marks: readonly { index: number; isrc: string }[]): string =>
    [upc, ...marks.filter(({ index }) => index === 1).map(({ isrc }) => isrc)].join(' | ');
  const tests: Readonly<Record<string, ProofTest[]>> = {
    DDPID: [equal('codes', found.upc, disc.upc), equal('text', found.masterId, disc.masterId)],
    DDPMS: [equal('length', found.sectors, disc.leadOut)],
    PQDESCR: [
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
    'CDTEXT.BIN': [equal('text', textOf(found.cdText), textOf(disc.cdText))],
    MD5SUMS: [equal('checksums', found.problems.join(' ') || 'in order', 'in order')],
  };
  const files: ProofFile[] = [];
  for (const path of paths.filter((each) => each !== DDP_IMAGE))
    files.push(await textFile(path, await ports.openFile(path), ports, tests[path] ?? []));
  return files;
}

const end = (leadOut: DdpMarkFound['frames'] | null): string => (leadOut === null ? '–' : formatMsf(leadOut));
