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
/** No more of a text is looked at: a name is cut off long before. */
const MOST_CHARACTERS = 1000;
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
    .slice(0, MOST_CHARACTERS)
    .normalize('NFC')
    .replace(/[\p{Cc}\s]+/gu, ' ')
    .replace(/[/\\:*?"<>|]/g, '-')
    .replace(/^[.\s]+|[.\s]+$/g, '');
  const short = cutToBytes(clean, NAME_BYTES).trimEnd();
  if (short === '') return 'untitled';
  return DEVICES.test(short) ? `${short}-` : short;
}

function cutToBytes(text: string, most: number): string {
  const { read } = new TextEncoder().encodeInto(text, new Uint8Array(most));
  return text.slice(0, read);
}

/** Makes names differ, ignoring case as many file systems do: the second “Intro” becomes “Intro (2)”. */
export function uniqueNames(names: readonly string[]): string[] {
  const taken = new Set<string>();
  /** The number from which on a name is free. */
  const next = new Map<string, number>();
  return names.map((name) => {
    let candidate = name;
    let n = next.get(name.toLowerCase()) ?? 2;
    for (; taken.has(candidate.toLowerCase()); n++) candidate = `${name} (${n})`;
    next.set(name.toLowerCase(), n);
    taken.add(candidate.toLowerCase());
    return candidate;
  });
}
