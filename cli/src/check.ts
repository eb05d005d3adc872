import { english, joined } from '@oiseau/messages';
import {
  acceptedReason,
  checkEditions,
  wordFinding,
  type CheckSubject,
  type EditionFindings,
  type Finding,
} from '@oiseau/checks';
import { editionKey, positionOf, trackNumber, tracksOf, type Album } from '@oiseau/album/model';
import { openAlbum, type AlbumOnDisk } from './album-on-disk.js';
import { UsageError, type ExitStatus } from './exit.js';
import { measuredSubject } from './measured-subject.js';

/** `error track 3: …`, `error edition “LP” track A3: …`, one finding per line; accepted ones with their reason. */
export function findingLine(
  { subject, edition }: Omit<EditionFindings, 'findings'>,
  finding: Finding,
): string {
  const of = edition === null ? '' : ` edition “${edition}”`;
  const reason = acceptedReason(subject, finding);
  const accepted = reason === null ? '' : ` Accepted: “${reason}”`;
  return `${finding.severity}${of}${placeOf(subject, finding)}: ${english(wordFinding(finding))}${accepted}`;
}

/** ` track 3`, of several parts ` track 2-03`; ` disc 2`; nothing for the album. */
function placeOf({ parts }: CheckSubject, finding: Finding): string {
  const several = parts.length > 1;
  if ('song' in finding && finding.song !== null) {
    const { song } = finding;
    const part = parts.find(({ songs }) => songs.some(({ id }) => id === song));
    const number = part ? trackNumber(part, song) : null;
    if (!part || number === null) return ' hidden track';
    return ` track ${several ? positionOf(part, number) : number}`;
  }
  const part = 'part' in finding && several ? parts[finding.part - 1] : undefined;
  return part ? ` ${part.kind} ${part.label}` : '';
}

/** The rules' view of an album on disk. Its masters are not measured here, so rules that need that find nothing. */
export const subjectOf = ({ album, parts, masters, cover }: AlbumOnDisk): CheckSubject => ({
  ...{ album, parts, masters },
  cover: cover?.facts ?? null,
});

/**
 * A finding as data: its code, where it stands, its sentence, and its figures (times in ticks, places on a disc in CD frames). `track` is
 * the album's track number, `position` the place on the edition.
 */
function findingData(
  { subject, edition }: Omit<EditionFindings, 'findings'>,
  finding: Finding,
  numbers: ReadonlyMap<string, number>,
): object {
  const { code, severity, ...rest } = finding;
  const { song = null, part: own = null, ...figures } = rest as { song?: string | null; part?: number };
  const part = subject.parts.find(({ songs }) => songs.some(({ id }) => id === song));
  const place = part && song !== null ? trackNumber(part, song) : null;
  return {
    ...{ code, severity, edition },
    part: part?.number ?? own,
    track: song === null ? null : (numbers.get(song) ?? null),
    position: part && place !== null ? positionText(subject, part, place) : null,
    message: english(wordFinding(finding)),
    ...figures,
    ...(finding.code === 'dithered-again' && { why: english(joined(finding.why)) }),
    accepted: acceptedReason(subject, finding),
  };
}

/** `7` on a single disc, else `2-07`, `A2`. */
const positionText = (
  { parts }: CheckSubject,
  part: CheckSubject['parts'][number],
  number: number,
): string => (parts.length > 1 || part.kind === 'side' ? positionOf(part, number) : String(number));

/** Numbers of the album's tracks, from 1. */
const numbersOfTracks = (album: Album): ReadonlyMap<string, number> =>
  new Map(tracksOf(album).map(({ id }, i) => [id, i + 1]));

/** The edition of a name that was typed. @throws UsageError where there is none */
export function demandEdition({ editions }: Album, name: string): string {
  const found = editions.find((edition) => editionKey(edition.name) === editionKey(name));
  if (found) return found.name;
  const known = editions.map((edition) => edition.name).join(', ');
  throw new UsageError(
    `--edition ${name}: ${known === '' ? 'the album file has no editions.' : `no such edition. Available: ${known}.`}`,
  );
}

/** What is asked of `check`. */
export interface CheckOrder {
  readonly outside: boolean;
  /** Measures the masters, so that rules on sound speak. */
  readonly measure: boolean;
  /** Prints the findings as data. */
  readonly json: boolean;
  /** Only what concerns this edition; null: all. */
  readonly edition: string | null;
}

/** `oiseau check ALBUM.json [--edition NAME] [--measure] [--json]` */
export async function check(
  path: string,
  { outside, measure, json, edition }: CheckOrder,
  print: (line: string) => void,
  report: (line: string) => void,
): Promise<ExitStatus> {
  const opened = await openAlbum(path, outside);
  try {
    const plain = subjectOf(opened);
    const subject = measure ? await measuredSubject(opened, plain, report) : plain;
    const only = edition === null ? null : demandEdition(opened.album, edition);
    const groups = checkEditions(subject).filter(
      (group) => only === null || group.edition === null || group.edition === only,
    );
    const numbers = numbersOfTracks(opened.album);
    if (json) {
      const all = groups.flatMap((group) =>
        group.findings.map((finding) => findingData(group, finding, numbers)),
      );
      print(JSON.stringify(all, null, 2));
    } else
      for (const group of groups) group.findings.forEach((finding) => print(findingLine(group, finding)));
    return groups.some(({ findings }) => findings.some(({ severity }) => severity === 'error')) ? 1 : 0;
  } finally {
    await opened.close();
  }
}
