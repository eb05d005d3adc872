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
 * What is wrong with a text that should be an ISRC, for the person who types it; undefined when nothing is.
 * An empty text is no ISRC and no fault.
 */
export function isrcFault(text: string): string | undefined {
  if (text.trim() === '' || parseIsrc(text)) return undefined;
  const clean = text.toUpperCase().replace(/[-‐–\s]/g, '');
  if (clean.length < 12) return `${clean.length} of 12 characters.`;
  if (clean.length > 12) return `${clean.length} characters; an ISRC has 12.`;
  if (!/^[A-Z]{2}/.test(clean)) return 'The first two characters are letters (the country).';
  if (!/^.{2}[A-Z0-9]{3}/.test(clean)) return 'Characters 3 to 5 are letters or digits (the registrant).';
  return 'The last seven characters are digits (year and number).';
}
