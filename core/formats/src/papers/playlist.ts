/** One file of a playlist. */
export interface PlaylistEntry {
  /** Relative to the playlist, with `/` between folders. */
  readonly path: string;
  readonly seconds: number;
  readonly title: string;
}

const HEAD = '#EXTM3U';

/** The text of a playlist, to be stored as UTF-8: a line of length and title before each path. Lengths are whole seconds. */
export const writePlaylist = (entries: readonly PlaylistEntry[]): string =>
  [
    HEAD,
    ...entries.flatMap(({ path, seconds, title }) => [
      `#EXTINF:${Math.round(seconds)},${oneLine(title)}`,
      shown(path),
    ]),
  ]
    .map((line) => `${line}\n`)
    .join('');

/** The entries of a playlist, lengths in whole seconds. @throws RangeError where it is none */
export function readPlaylist(text: string): PlaylistEntry[] {
  const [head, ...lines] = text.split(/\r?\n/).filter((line) => line !== '');
  if (head !== HEAD) throw new RangeError('no playlist');
  const entries: PlaylistEntry[] = [];
  let told = { seconds: 0, title: '' };
  for (const line of lines) {
    const found = /^#EXTINF:(-?\d+),(.*)$/.exec(line);
    if (found) told = { seconds: Number(found[1]), title: found[2] ?? '' };
    else if (!line.startsWith('#')) entries.push({ path: line.replace(/^\.\//, ''), ...told });
  }
  return entries;
}

/** A name that begins like a remark must not be taken for one. */
const shown = (path: string): string => (path.startsWith('#') ? `./${path}` : path);
const oneLine = (text: string): string => text.replace(/[\r\n\t]+/g, ' ');
