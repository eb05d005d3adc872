/** Words that a name pattern may hold in braces. */
export const PATTERN_WORDS = [
  'number',
  'title',
  'performer',
  'album',
  'albumPerformer',
  'isrc',
  'upc',
  'catalogNumber',
  'date',
  'disc',
  'part',
  'position',
  'revision',
] as const;
export type PatternWord = (typeof PATTERN_WORDS)[number];

const BRACES = /\{([^{}]*)\}/g;
/** Longest file name in bytes of UTF-8 that every common file system takes is 255; room stays for an extension. */
const NAME_BYTES = 240;
/** Names that Windows keeps for devices. */
const DEVICES = /^(con|prn|aux|nul|com\d|lpt\d)$/i;

/** Words in braces that no pattern knows. */
export function unknownWords(pattern: string): string[] {
  return [...pattern.matchAll(BRACES)]
    .map((found) => found[1] ?? '')
    .filter((word) => !PATTERN_WORDS.some((known) => known === word));
}

/** Fills in a pattern and makes of it a name that every file system holds; the result has no folder in it. */
export function fillPattern(pattern: string, words: Record<PatternWord, string>): string {
  return safeFileName(pattern.replace(BRACES, (_, word: PatternWord) => words[word]));
}

/** Replaces what a file system cannot hold; never empty, never a device's name, never outside its folder. */
export function safeFileName(text: string): string {
  const clean = text
    .normalize('NFC')
    .replace(/[\p{Cc}\s]+/gu, ' ')
    .replace(/[/\\:*?"<>|]/g, '-')
    .replace(/^[.\s]+|[.\s]+$/g, '');
  const short = cutToBytes(clean, NAME_BYTES).trimEnd();
  if (short === '') return 'untitled';
  return DEVICES.test(short) ? `${short}-` : short;
}

function cutToBytes(text: string, most: number): string {
  const encoder = new TextEncoder();
  let used = 0;
  let kept = '';
  for (const character of text) {
    used += encoder.encode(character).length;
    if (used > most) break;
    kept += character;
  }
  return kept;
}

/** Makes names differ, ignoring case as many file systems do: the second “Intro” becomes “Intro (2)”. */
export function uniqueNames(names: readonly string[]): string[] {
  const taken = new Set<string>();
  return names.map((name) => {
    let candidate = name;
    for (let n = 2; taken.has(candidate.toLowerCase()); n++) candidate = `${name} (${n})`;
    taken.add(candidate.toLowerCase());
    return candidate;
  });
}
