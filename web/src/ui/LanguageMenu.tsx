import { READER_LANGUAGE_NAMES } from '@oiseau/messages';
import { Languages } from 'lucide-react';
import { Dropdown } from 'react-bootstrap';
import { IconMenu } from './IconMenu.js';
import { chooseLanguage, chosenLanguage, INTERFACE_LANGUAGES } from './language.js';
import { t } from './messages.js';

/** Chooses the language of the interface. */
export function LanguageMenu() {
  const chosen = chosenLanguage();
  return (
    <IconMenu icon={Languages} label={t('Language')}>
      <Dropdown.Item as="button" active={chosen === null} onClick={() => chooseLanguage(null)}>
        {t('Same as the browser')}
      </Dropdown.Item>
      {INTERFACE_LANGUAGES.map((language) => (
        <Dropdown.Item
          key={language}
          as="button"
          lang={language}
          active={chosen === language}
          onClick={() => chooseLanguage(language)}
        >
          {READER_LANGUAGE_NAMES[language]}
        </Dropdown.Item>
      ))}
    </IconMenu>
  );
}
