import { parse, TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser';
import { describe, expect, it } from 'vitest';
import { CATALOGUES, readCatalogue, sourceTexts, textsFor } from './messages.js';

const texts = sourceTexts();

/** Names of the values and tags in a text. */
function namesIn(elements: readonly MessageFormatElement[]): string[] {
  return elements.flatMap((element) => {
    switch (element.type) {
      case TYPE.literal:
      case TYPE.pound:
        return [];
      case TYPE.tag:
        return [element.value, ...namesIn(element.children)];
      case TYPE.select:
      case TYPE.plural:
        return [element.value, ...Object.values(element.options).flatMap(({ value }) => namesIn(value))];
      default:
        return [element.value];
    }
  });
}
const names = (text: string): string[] => [...new Set(namesIn(parse(text)))].sort();

describe('the texts of the source', () => {
  it('are found', () => expect(texts.length).toBeGreaterThan(1800));

  it('are given every value that they name, and no other', () => {
    const wrong = texts.filter(
      ({ text, given }) =>
        given !== null && JSON.stringify(names(text)) !== JSON.stringify([...given].sort()),
    );
    expect(wrong.map(({ file, line, text }) => `${file}:${line}: ${text}`)).toEqual([]);
  });
});

describe.each(Object.keys(CATALOGUES))('the catalogue %s', (language) => {
  const catalogue = readCatalogue(language);
  const wanted = textsFor(language, texts);

  it('has the texts of the source, each translated, and no others', () => {
    expect(Object.keys(catalogue).filter((text) => !wanted.includes(text))).toEqual([]);
    expect(wanted.filter((text) => !catalogue[text])).toEqual([]);
  });

  it('names the same values as the source', () => {
    const wrong = Object.entries(catalogue).filter(
      ([text, translated]) => JSON.stringify(names(text)) !== JSON.stringify(names(translated)),
    );
    expect(wrong).toEqual([]);
  });
});
