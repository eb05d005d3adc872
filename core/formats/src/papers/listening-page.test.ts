import { createTranslator, READER_LANGUAGES } from '@oiseau/messages';
import { describe, expect, it } from 'vitest';
import { LISTENING_SCRIPT } from './listening-page-parts.js';
import { LISTENING_TEXTS, listeningTexts } from './listening-page-texts.js';

describe('the texts of the exported page', () => {
  it('are those that its script asks for', () => {
    const asked = [
      ...LISTENING_SCRIPT.matchAll(/T\((?:p\.kind==='side'\?)?'([^']+)'(?::'([^']+)')?/g),
    ].flatMap(([, text, other]) => [text, other].filter((each) => each !== undefined));
    expect(new Set(asked)).toEqual(new Set(LISTENING_TEXTS.map(({ text }) => text)));
  });

  it('keep their values for the page to fill in, in every language', async () => {
    const texts = await listeningTexts((language) =>
      Promise.resolve(createTranslator(language, language, { 'Note at {time}': `${language}: {time}` })),
    );
    expect(Object.keys(texts)).toEqual([...READER_LANGUAGES]);
    expect(texts.fr?.['Note at {time}']).toBe('fr: {time}');
  });
});
