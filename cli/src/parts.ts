import { albumToFile } from '@oiseau/album/file';
import { MEDIA, mostOf, songOf, type Medium } from '@oiseau/album/model';
import { secondsToTicks } from '@oiseau/audio/time';
import { spreadOver, spreadSongs } from '@oiseau/album/edits';
import { openAlbum } from './album-on-disk.js';
import { UsageError, type ExitStatus } from './exit.js';

export interface PartsOrder {
  readonly medium: string | undefined;
  /** `MM:SS` or `MM` */
  readonly limit: string | undefined;
  readonly count: string | undefined;
}

const COUNT = /^[1-9]\d?$/;
const LIMIT = /^(\d{1,3})(?::([0-5]\d))?$/;

/** `oiseau parts ALBUM.json --medium M [--limit MM:SS] [--count N]`: prints the `parts` of the album as they would be spread. */
export async function parts(
  path: string,
  { medium, limit, count }: PartsOrder,
  outside: boolean,
  print: (line: string) => void,
  report: (line: string) => void,
): Promise<ExitStatus> {
  const isMedium = (text: string | undefined): text is Medium => MEDIA.some((known) => known === text);
  if (!isMedium(medium)) throw new UsageError(`--medium must be one of ${MEDIA.join(', ')}.`);
  const [, minutes, seconds = '0'] = LIMIT.exec(limit ?? '') ?? [];
  if (limit !== undefined && minutes === undefined)
    throw new UsageError('--limit must be a time such as 18:00.');
  if (count !== undefined && !COUNT.test(count))
    throw new UsageError('--count must be a number from 1 to 99.');
  const own = minutes === undefined ? null : secondsToTicks(60 * Number(minutes) + Number(seconds));
  const opened = await openAlbum(path, outside);
  try {
    const { album, masters } = opened;
    const most = own ?? mostOf(medium);
    const spread = spreadOver(spreadSongs(album, masters), medium, most, Number(count ?? 1));
    if ('over' in spread) {
      for (const id of spread.over)
        report(`${songOf(album, id)?.title || 'A track'} alone exceeds the limit. Cut it first.`);
      return 1;
    }
    const proposed = spread.parts.map(({ first }) => ({
      ...{ medium, first, title: '', upc: '' },
      limit: own,
    }));
    const { parts: found } = albumToFile({ ...album, parts: proposed }, (name) => name, null);
    print(JSON.stringify(found, null, 2));
    return 0;
  } finally {
    await opened.close();
  }
}
