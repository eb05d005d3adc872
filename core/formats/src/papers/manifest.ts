/**
 * A line of a list of sums as `sha256sum -c` reads it. Of a name, a line break can’t stand in one, so that it needs no escape here: names of
 * files come from `safeFileName`.
 * @param sum lower-case hexadecimal
 */
export const manifestLine = (sum: string, path: string): string => `${sum}  ${path}\n`;

/** Sums by path, of a list as `sha256sum` writes it. */
export function readManifest(text: string): ReadonlyMap<string, string> {
  const lines = text.split('\n').filter((line) => line !== '');
  return new Map(lines.map((line) => [line.replace(/^\S+ [ *]/, ''), line.split(' ')[0] ?? '']));
}
