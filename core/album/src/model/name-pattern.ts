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
  'alternate',
  'edition',
  'revision',
  'revisionDate',
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

/**
 * Fills in a pattern and makes of it a name that every file system holds; the result has no folder in it.
 * Where the pattern does not say which recording it is, the name of an alternate stands at its end in brackets.
 */
export function fillPattern(pattern: string, words: Record<PatternWord, string>): string {
  const text = pattern.replace(BRACES, (_, word: PatternWord) => words[word]);
  const said = words.alternate === '' || pattern.includes('{alternate}');
  return safeFileName(text, said ? '' : ` (${words.alternate})`);
}

/**
 * Replaces what a file system cannot hold; never empty, never a device's name, never outside its folder.
 * @param ending stands whole at its end, however long the text is
 */
export function safeFileName(text: string, ending = ''): string {
  const clean = tidied(text.slice(0, MOST_CHARACTERS)).replace(/^[.\s]+|[.\s]+$/g, '');
  const end = tidied(ending);
  const room = NAME_BYTES - new TextEncoder().encode(end).length;
  const short = cutToBytes(clean, room).trimEnd() || 'untitled';
  return DEVICES.test(short + end) ? `${short}-` : short + end;
}

const tidied = (text: string): string =>
  text
    .normalize('NFC')
    .replace(/[\p{Cc}\s]+/gu, ' ')
    .replace(/[/\\:*?"<>|]/g, '-');

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
