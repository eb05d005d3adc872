import { describe, expect, it } from 'vitest';
import { createTranslator, english, figure, msg, verbatim } from './index.js';

const GERMAN = createTranslator('de', 'de-DE', {
  'The album has no tracks.': 'Das Album hat keine Tracks.',
  '{count, plural, one {# track} other {# tracks}}': '{count, plural, one {# Track} other {# Tracks}}',
  'The peak is {peak}.': 'Der Spitzenwert beträgt {peak}.',
  'Open <link>the album</link>': '<link>Album</link> öffnen',
  'Missing: {fields}': 'Es fehlen: {fields}',
  title: 'Titel',
  artist: 'Interpret',
});

describe('a message', () => {
  it('reads as its English where a catalogue has no other', () => {
    expect(GERMAN.say(msg('Not translated'))).toBe('Not translated');
    expect(english(msg('The album has no tracks.'))).toBe('The album has no tracks.');
    expect(GERMAN.say(msg('The album has no tracks.'))).toBe('Das Album hat keine Tracks.');
  });

  it('has the plural of its language and the separators of its locale', () => {
    const tracks = (count: number) => msg('{count, plural, one {# track} other {# tracks}}', { count });
    expect([0, 1, 2, 1234].map((n) => english(tracks(n)))).toEqual([
      '0 tracks',
      '1 track',
      '2 tracks',
      '1,234 tracks',
    ]);
    expect(GERMAN.say(tracks(1234))).toBe('1.234 Tracks');
  });

  it('has the decimal sign of the locale in figures, and in nothing else', () => {
    const peak = msg('The peak is {peak}.', { peak: figure('−1.25 dBTP') });
    expect(english(peak)).toBe('The peak is −1.25 dBTP.');
    expect(GERMAN.say(peak)).toBe('Der Spitzenwert beträgt −1,25 dBTP.');
    expect(GERMAN.figure('79:59:74')).toBe('79:59:74');
    expect(GERMAN.say(msg('{a}', { a: '1.5' }))).toBe('1.5');
  });

  it('words the messages and lists in it', () => {
    const fields = msg('Missing: {fields}', { fields: [msg('title'), msg('artist'), verbatim('a {b} <c>')] });
    expect(english(fields)).toBe('Missing: title, artist and a {b} <c>');
    expect(GERMAN.say(fields)).toBe('Es fehlen: Titel, Interpret und a {b} <c>');
  });

  it('keeps text of people as it is, whatever signs of the syntax it has', () => {
    for (const text of ['{', '}', "it's '{x}'", '{a, plural, one {', '<b>x</b>', '#'])
      expect(GERMAN.say(verbatim(text))).toBe(text);
  });

  it('of another version is shown unchanged', () => {
    expect(english(msg('{broken'))).toBe('{broken');
    expect(english(msg('{a} and {b}', { a: '1' }))).toBe('{a} and {b}');
  });

  it('is split at its tags', () => {
    const link = (children: (string | object)[]): string | object => ({ link: children.join('') });
    expect(GERMAN.pieces('Open <link>the album</link>', {}, { link })).toEqual([
      { link: 'Album' },
      ' öffnen',
    ]);
  });
});
