import { describe, expect, it } from 'vitest';
import { fontFor } from './paper-fonts.js';

describe('the font of a text', () => {
  it.each([
    ['Nine Tides', 'SourceSans3_400Regular'],
    ['Łódź – “Ebb” №5', 'SourceSans3_400Regular'],
    ['Θάλασσα', 'SourceSans3_400Regular'],
    ['Прилив', 'SourceSans3_400Regular'],
    ['潮騒 Ebb', 'NotoSansJP_400Regular'],
    ['シオ Прилив Θάλασσα', 'NotoSansJP_400Regular'],
    ['ים', 'DejaVuSansCondensed'],
    ['', 'SourceSans3_400Regular'],
  ])('has every character: %s', (text, font) => {
    expect(fontFor(text)).toContain(`${font}.ttf`);
  });

  it('has another weight for what is strong', () => {
    expect(fontFor('Ebb', 'strong')).toContain('SourceSans3_600SemiBold');
    expect(fontFor('潮', 'strong')).toContain('NotoSansJP_600SemiBold');
  });

  it('is the one that lacks least where none has all', () => {
    // Egyptian hieroglyphs are in none of them, Hebrew in one.
    expect(fontFor('ים \u{13080}')).toContain('DejaVuSansCondensed');
  });
});
