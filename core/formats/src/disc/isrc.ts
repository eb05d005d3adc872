import { msg, type Message } from '@oiseau/messages';
/** Letters, 3 letters or digits, 2 digits of the year, 5 digits [ISO 3901]; stored without hyphens, in capitals. */
const SHAPE = /^[A-Z]{2}[A-Z0-9]{3}\d{7}$/;

/** Any way of typing an ISRC → the stored form; undefined when it is not one. Hyphens, blanks and case do not matter. */
export function parseIsrc(text: string): string | undefined {
  const clean = text
    .trim()
    .toUpperCase()
    .replace(/^ISRC[:\s]*/, '')
    .replace(/[-‐–\s]/g, '');
  return SHAPE.test(clean) ? clean : undefined;
}

/** `ZZ-OIS-26-00001`, the form for people. Takes the stored form. */
export function formatIsrc(isrc: string): string {
  return `${isrc.slice(0, 2)}-${isrc.slice(2, 5)}-${isrc.slice(5, 7)}-${isrc.slice(7)}`;
}

/**
 * ISRCs with consecutive numbers, in the stored form.
 * @param prefix country and registrant, five characters
 * @param year two digits
 * @throws RangeError when the prefix or the year is none, or the numbers run past 99999
 */
export function isrcRun(prefix: string, year: string, first: number, count: number): string[] {
  const bare = prefix.toUpperCase().replace(/[-‐–\s]/g, '');
  if (!/^[A-Z]{2}[A-Z0-9]{3}$/.test(bare))
    throw new RangeError('A prefix has two letters and three letters or digits, such as ZZ-OIS.');
  if (!/^\d{2}$/.test(year.trim())) throw new RangeError('The year has two digits, such as 26.');
  if (!Number.isInteger(first) || first < 0 || first + count - 1 > 99_999)
    throw new RangeError('The numbers go from 0 to 99999.');
  return Array.from(
    { length: count },
    (_, i) => `${bare}${year.trim()}${String(first + i).padStart(5, '0')}`,
  );
}

/**
 * The number after the highest one that was given under a prefix in a year; 1 where none was. What is no prefix or no year has none.
 * @param known ISRCs in the stored form
 */
export function nextIsrcNumber(prefix: string, year: string, known: Iterable<string>): number {
  const stem = `${prefix.toUpperCase().replace(/[-‐–\s]/g, '')}${year.trim()}`;
  let highest = 0;
  for (const isrc of known)
    if (stem.length === 7 && isrc.startsWith(stem)) highest = Math.max(highest, Number(isrc.slice(7)));
  return highest + 1;
}

/**
 * What is wrong with a text that should be an ISRC, for the person who types it; undefined when nothing is.
 * An empty text is no ISRC and no fault.
 */
export function isrcFault(text: string): Message | undefined {
  if (text.trim() === '' || parseIsrc(text)) return undefined;
  const clean = text.toUpperCase().replace(/[-‐–\s]/g, '');
  if (clean.length < 12) return msg('{count} of 12 characters.', { count: clean.length });
  if (clean.length > 12) return msg('{count} characters; an ISRC has 12.', { count: clean.length });
  if (!/^[A-Z]{2}/.test(clean)) return msg('The first two characters are letters (the country).');
  if (!/^.{2}[A-Z0-9]{3}/.test(clean))
    return msg('Characters 3 to 5 are letters or digits (the registrant).');
  return msg('The last seven characters are digits (year and number).');
}
