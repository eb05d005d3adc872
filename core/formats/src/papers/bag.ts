/** A bag [RFC 8493 2]: a folder that says what it holds. */

/** `bagit.txt` [RFC 8493 2.1.1]. */
export const BAG_DECLARATION = 'BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n';

/** A path in a manifest: line breaks and `%` are percent-encoded [RFC 8493 2.1.3]. */
export const bagPath = (path: string): string =>
  path.replaceAll('%', '%25').replaceAll('\n', '%0A').replaceAll('\r', '%0D');

/** `bag-info.txt` [RFC 8493 2.2.2]: a line for each label, an empty value is left out. */
export const bagInfo = (entries: readonly (readonly [label: string, value: string])[]): string =>
  entries
    .filter(([, value]) => value !== '')
    .map(([label, value]) => `${label}: ${value.replace(/\s+/g, ' ').trim()}\n`)
    .join('');

/** Labels and values of a bag's tag file. */
export const readBagInfo = (text: string): ReadonlyMap<string, string> =>
  new Map(
    text
      .split('\n')
      .filter((line) => line.includes(': '))
      .map((line) => [line.slice(0, line.indexOf(': ')), line.slice(line.indexOf(': ') + 2)]),
  );
