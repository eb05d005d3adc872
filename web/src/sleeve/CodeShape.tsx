import { t } from '../ui/messages.js';
/** The parts of a code, each over the word for it, so that its shape explains itself. */
export function CodeShape({ parts }: { parts: readonly (readonly [sample: string, meaning: string])[] }) {
  return (
    <span className="code-shape">
      {parts.map(([sample, meaning]) => (
        <span key={meaning} className="code-part">
          <span className="sample">{sample}</span>
          <span className="meaning">{meaning}</span>
        </span>
      ))}
    </span>
  );
}

export const ISRC_SHAPE = [
  ['ZZ', t('country')],
  ['OIS', t('registrant')],
  ['26', t('year')],
  ['00001', t('number')],
] as const;

export const EAN_SHAPE = [
  ['202611090001', t('12 digits')],
  ['4', t('check digit')],
] as const;
