import { checkAlbum, wordFinding, type Finding } from '@oiseau/core';
import { openAlbum, type AlbumOnDisk } from './album-on-disk.js';
import type { ExitStatus } from './exit.js';

/** `error track 3: …`, one finding a line. */
export function findingLine(finding: Finding): string {
  const track = 'track' in finding ? finding.track : null;
  const place = track === null ? '' : track < 0 ? ' hidden song' : ` track ${track + 1}`;
  return `${finding.severity}${place}: ${wordFinding(finding)}`;
}

export function findingsOf({ album, sequence, layout, masters }: AlbumOnDisk): Finding[] {
  return checkAlbum({ album, sequence, layout, masters });
}

/** `oiseau check ALBUM.json` */
export async function check(path: string, print: (line: string) => void): Promise<ExitStatus> {
  const opened = await openAlbum(path);
  try {
    const findings = findingsOf(opened);
    findings.forEach((finding) => print(findingLine(finding)));
    return findings.some(({ severity }) => severity === 'error') ? 1 : 0;
  } finally {
    await opened.close();
  }
}
