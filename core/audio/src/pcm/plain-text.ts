/** What of a text is kept, whoever wrote it: no control characters but line breaks and tabs, `most` characters, and no half of one at its end. */
export const plainText = (text: string, most: number): string =>
  text
    .replace(/[^\P{Cc}\n\r\t]/gu, '')
    .slice(0, most)
    .replace(/[\ud800-\udbff]$/, '');
