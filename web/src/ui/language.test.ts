// @vitest-environment happy-dom
import { createElement } from 'react';
import { renderToStaticMarkup } from 'react-dom/server';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { chosenLanguage, languageOfPage } from './language.js';
import { rich, say, t } from './messages.js';
import { msg } from '@oiseau/messages';

const asked = (...languages: string[]) => vi.spyOn(navigator, 'languages', 'get').mockReturnValue(languages);
const open = (path: string): void => window.history.replaceState(null, '', path);

afterEach(() => {
  vi.restoreAllMocks();
  localStorage.clear();
  open('/');
});

describe('the language of a page', () => {
  it('is the first of the browser that the interface has', () => {
    asked('fr-CA', 'de-AT', 'en');
    expect(languageOfPage()).toBe('de');
    asked('pt-BR', 'ja');
    expect(languageOfPage()).toBe('en');
  });

  it('is the one that was chosen', () => {
    asked('de');
    localStorage.setItem('oiseau-language', 'en');
    expect(languageOfPage()).toBe('en');
    localStorage.setItem('oiseau-language', 'xx');
    expect(chosenLanguage()).toBeNull();
    expect(languageOfPage()).toBe('de');
  });

  it('has more to choose from for a listener, who chooses nothing', () => {
    open('/listen/some-id');
    asked('ja-JP', 'en');
    localStorage.setItem('oiseau-language', 'de');
    expect(languageOfPage()).toBe('ja');
    asked('es-MX');
    expect(languageOfPage()).toBe('es');
  });
});

describe('a text', () => {
  const drawn = (node: ReturnType<typeof rich>): string => renderToStaticMarkup(createElement('p', {}, node));

  it('puts what its tags enclose into their elements', () => {
    expect(
      drawn(
        rich(
          'Open <link>the {what}</link> first.',
          { link: createElement('a', { href: '/x' }) },
          { what: 'a<b' },
        ),
      ),
    ).toBe('<p>Open <a href="/x">the a&lt;b</a> first.</p>');
    expect(drawn(rich('<field></field> of 3', { field: createElement('input') }))).toBe(
      '<p><input/> of 3</p>',
    );
  });

  it('of the core is worded, and one that is worded stays as it is', () => {
    expect(say(msg('{count, plural, one {# track} other {# tracks}}', { count: 1 }))).toBe('1 track');
    expect(say('{count}')).toBe('{count}');
    expect(t('Add masters')).toBe('Add masters');
  });
});
