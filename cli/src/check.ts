import {
  acceptedReason,
  checkAlbum,
  positionOf,
  trackNumber,
  wordFinding,
  type CheckSubject,
  type Finding,
} from '@oiseau/core';
import { openAlbum, type AlbumOnDisk } from './album-on-disk.js';
import type { ExitStatus } from './exit.js';

/** `error track 3: …`, one finding a line; what somebody has accepted, with the reason. */
export function findingLine(subject: CheckSubject, finding: Finding): string {
  const reason = acceptedReason(subject, finding);
  const accepted = reason === null ? '' : ` Accepted: “${reason}”`;
  return `${finding.severity}${placeOf(subject, finding)}: ${wordFinding(finding)}${accepted}`;
}

/** ` track 3`, of several parts ` track 2-03`; ` disc 2`; nothing for the album. */
function placeOf({ parts }: CheckSubject, finding: Finding): string {
  const several = parts.length > 1;
  if ('song' in finding && finding.song !== null) {
    const { song } = finding;
    const part = parts.find(({ songs }) => songs.some(({ id }) => id === song));
    const number = part ? trackNumber(part, song) : null;
    if (!part || number === null) return ' hidden song';
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

/** `oiseau check ALBUM.json` */
export async function check(
  path: string,
  outside: boolean,
  print: (line: string) => void,
): Promise<ExitStatus> {
  const opened = await openAlbum(path, outside);
  try {
    const subject = subjectOf(opened);
    const findings = checkAlbum(subject);
    findings.forEach((finding) => print(findingLine(subject, finding)));
    return findings.some(({ severity }) => severity === 'error') ? 1 : 0;
  } finally {
    await opened.close();
  }
}
