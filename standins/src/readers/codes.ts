/** Whether 13 digits end in the right check digit [GS1 General Specifications 7.9]. */
export function isEan(text: string): boolean {
  if (!/^\d{13}$/.test(text)) return false;
  const sum = [...text].slice(0, 12).reduce((total, digit, i) => total + Number(digit) * (i % 2 ? 3 : 1), 0);
  return (10 - (sum % 10)) % 10 === Number(text[12]);
}

/** Whether a text is an ISRC without hyphens [ISO 3901]. */
export const isIsrc = (text: string): boolean => /^[A-Z]{2}[A-Z0-9]{3}\d{7}$/.test(text);

export const SECTORS_A_SECOND = 75;
export const SECTOR = 2352;

/** MM:SS:FF of sectors. */
export function msf(sectors: number): string {
  const two = (value: number): string => String(value).padStart(2, '0');
  const seconds = Math.floor(sectors / SECTORS_A_SECOND);
  return `${two(Math.floor(seconds / 60))}:${two(seconds % 60)}:${two(sectors % SECTORS_A_SECOND)}`;
}
