import { READER_LANGUAGE_NAMES, READER_LANGUAGES, type ReaderLanguage } from '@oiseau/messages';
import { Form } from 'react-bootstrap';
import { t } from './messages.js';

interface PaperLanguageProps {
  readonly value: ReaderLanguage;
  readonly onChange: (language: ReaderLanguage) => void;
}

/** Chooses the language in which a paper is printed. */
export function PaperLanguage({ value, onChange }: PaperLanguageProps) {
  return (
    <Form.Select
      size="sm"
      className="paper-language"
      aria-label={t('Language of the PDF')}
      title={t('Language of the PDF')}
      value={value}
      onChange={({ target }) => {
        const chosen = READER_LANGUAGES.find((language) => language === target.value);
        if (chosen) onChange(chosen);
      }}
    >
      {READER_LANGUAGES.map((language) => (
        <option key={language} value={language} lang={language}>
          {READER_LANGUAGE_NAMES[language]}
        </option>
      ))}
    </Form.Select>
  );
}
