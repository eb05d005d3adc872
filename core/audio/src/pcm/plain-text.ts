/** Sanitises text: no control characters except line breaks and tabs, at most `most` characters, no split surrogate pair at the end. */
export const plainText = (text: string, most: number): string =>
  text
    .replace(/[^\P{Cc}\n\r\t]/gu, '')
    .slice(0, most)
    .replace(/[\ud800-\udbff]$/, '');
