import { english, joined } from '@oiseau/messages';
import { acceptedReason, checkAlbum, wordFinding, type CheckSubject, type Finding } from '@oiseau/checks';
import { positionOf, trackNumber } from '@oiseau/album/model';
import { openAlbum, type AlbumOnDisk } from './album-on-disk.js';
import type { ExitStatus } from './exit.js';
import { measuredSubject } from './measured-subject.js';

/** `error track 3: …`, one finding per line; accepted ones with their reason. */
export function findingLine(subject: CheckSubject, finding: Finding): string {
  const reason = acceptedReason(subject, finding);
  const accepted = reason === null ? '' : ` Accepted: “${reason}”`;
  return `${finding.severity}${placeOf(subject, finding)}: ${english(wordFinding(finding))}${accepted}`;
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

/** A finding as data: its code, where it stands, its sentence, and its figures (times in ticks, places on a disc in CD frames). */
function findingData(subject: CheckSubject, finding: Finding): object {
  const { code, severity, ...rest } = finding;
  const { song = null, part: own = null, ...figures } = rest as { song?: string | null; part?: number };
  const part = subject.parts.find(({ songs }) => songs.some(({ id }) => id === song));
  return {
    ...{ code, severity },
    part: part?.number ?? own,
    track: part && song !== null ? trackNumber(part, song) : null,
    message: english(wordFinding(finding)),
    ...figures,
    ...(finding.code === 'dithered-again' && { why: english(joined(finding.why)) }),
    accepted: acceptedReason(subject, finding),
  };
}

/** What is asked of `check`. */
export interface CheckOrder {
  readonly outside: boolean;
  /** Measures the masters, so that rules on sound speak. */
  readonly measure: boolean;
  /** Prints the findings as data. */
  readonly json: boolean;
}

/** `oiseau check ALBUM.json [--measure] [--json]` */
export async function check(
  path: string,
  { outside, measure, json }: CheckOrder,
  print: (line: string) => void,
  report: (line: string) => void,
): Promise<ExitStatus> {
  const opened = await openAlbum(path, outside);
  try {
    const plain = subjectOf(opened);
    const subject = measure ? await measuredSubject(opened, plain, report) : plain;
    const findings = checkAlbum(subject);
    if (json)
      print(
        JSON.stringify(
          findings.map((finding) => findingData(subject, finding)),
          null,
          2,
        ),
      );
    else findings.forEach((finding) => print(findingLine(subject, finding)));
    return findings.some(({ severity }) => severity === 'error') ? 1 : 0;
  } finally {
    await opened.close();
  }
}
