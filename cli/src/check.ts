import { acceptedReason, checkAlbum, wordFinding, type CheckSubject, type Finding } from '@oiseau/core';
import { openAlbum, type AlbumOnDisk } from './album-on-disk.js';
import type { ExitStatus } from './exit.js';

/** `error track 3: …`, one finding a line; what somebody has accepted, with the reason. */
export function findingLine(subject: CheckSubject, finding: Finding): string {
  const track = 'track' in finding ? finding.track : null;
  const place = track === null ? '' : track < 0 ? ' hidden song' : ` track ${track + 1}`;
  const reason = acceptedReason(subject, finding);
  const accepted = reason === null ? '' : ` Accepted: “${reason}”`;
  return `${finding.severity}${place}: ${wordFinding(finding)}${accepted}`;
}

/** The rules' view of an album on disk. Its masters are not measured here, so rules that need that find nothing. */
export const subjectOf = ({ album, sequence, layout, masters, cover }: AlbumOnDisk): CheckSubject => ({
  ...{ album, sequence, layout, masters },
  cover: cover?.facts ?? null,
});

/** `oiseau check ALBUM.json` */
export async function check(path: string, print: (line: string) => void): Promise<ExitStatus> {
  const opened = await openAlbum(path);
  try {
    const subject = subjectOf(opened);
    const findings = checkAlbum(subject);
    findings.forEach((finding) => print(findingLine(subject, finding)));
    return findings.some(({ severity }) => severity === 'error') ? 1 : 0;
  } finally {
    await opened.close();
  }
}
