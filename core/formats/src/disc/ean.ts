import { msg, type Message } from '@oiseau/messages';
/**
 * Check digit of an EAN-13 [GS1 General Specifications 7.9]: (10 − (Σ odd-place digits + 3·Σ even-place digits) mod 10) mod 10.
 * @param digits the first 12 digits
 */
export function eanCheckDigit(digits: string): number {
  let sum = 0;
  for (let i = 0; i < 12; i++) sum += Number(digits[i]) * (i % 2 === 0 ? 1 : 3);
  return (10 - (sum % 10)) % 10;
}

/** Any way of typing a UPC (12 digits) or EAN (13) → 13 digits with a right check digit; undefined when it is neither. */
export function parseEan(text: string): string | undefined {
  const digits = bare(text);
  if (!/^\d{12,13}$/.test(digits)) return undefined;
  const wide = digits.padStart(13, '0');
  return eanCheckDigit(wide) === Number(wide[12]) ? wide : undefined;
}

/** What is wrong with a text that should be a UPC/EAN; undefined when nothing is, or when it is empty. */
export function eanFault(text: string): Message | undefined {
  const digits = bare(text);
  if (digits === '' || parseEan(text)) return undefined;
  if (/\D/.test(digits)) return msg('A UPC or EAN has only digits.');
  if (digits.length < 12) return msg('{count} digits; a UPC has 12, an EAN 13.', { count: digits.length });
  if (digits.length > 13) return msg('{count} digits; an EAN has 13.', { count: digits.length });
  const wide = digits.padStart(13, '0');
  return msg('The check digit (the last) should be {right}, not {found}.', {
    right: eanCheckDigit(wide),
    found: wide[12],
  });
}

const bare = (text: string): string => text.replace(/[-\s]/g, '');
