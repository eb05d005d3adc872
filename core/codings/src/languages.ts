/** Language codes of the EBU [Tech 3264 appendix 3] by the language of a BCP 47 tag, with its code of ISO 639-2/B. */
export const LANGUAGES: Readonly<
  Record<string, { readonly code: number; readonly iso: string; readonly name: string }>
> = {
  cs: { code: 0x06, iso: 'cze', name: 'Czech' },
  da: { code: 0x07, iso: 'dan', name: 'Danish' },
  de: { code: 0x08, iso: 'ger', name: 'German' },
  en: { code: 0x09, iso: 'eng', name: 'English' },
  es: { code: 0x0a, iso: 'spa', name: 'Spanish' },
  et: { code: 0x0c, iso: 'est', name: 'Estonian' },
  fo: { code: 0x0e, iso: 'fao', name: 'Faroese' },
  fr: { code: 0x0f, iso: 'fre', name: 'French' },
  ga: { code: 0x11, iso: 'gle', name: 'Irish' },
  gd: { code: 0x12, iso: 'gla', name: 'Gaelic' },
  is: { code: 0x14, iso: 'ice', name: 'Icelandic' },
  it: { code: 0x15, iso: 'ita', name: 'Italian' },
  la: { code: 0x17, iso: 'lat', name: 'Latin' },
  lv: { code: 0x18, iso: 'lav', name: 'Latvian' },
  lt: { code: 0x1a, iso: 'lit', name: 'Lithuanian' },
  hu: { code: 0x1b, iso: 'hun', name: 'Hungarian' },
  nl: { code: 0x1d, iso: 'dut', name: 'Dutch' },
  no: { code: 0x1e, iso: 'nor', name: 'Norwegian' },
  nb: { code: 0x1e, iso: 'nob', name: 'Norwegian' },
  pl: { code: 0x20, iso: 'pol', name: 'Polish' },
  pt: { code: 0x21, iso: 'por', name: 'Portuguese' },
  ro: { code: 0x22, iso: 'rum', name: 'Romanian' },
  sk: { code: 0x25, iso: 'slo', name: 'Slovak' },
  sl: { code: 0x26, iso: 'slv', name: 'Slovenian' },
  fi: { code: 0x27, iso: 'fin', name: 'Finnish' },
  sv: { code: 0x28, iso: 'swe', name: 'Swedish' },
  tr: { code: 0x29, iso: 'tur', name: 'Turkish' },
  ja: { code: 0x69, iso: 'jpn', name: 'Japanese' },
};

/** The EBU code of a BCP 47 language tag; English where it has none. */
export const languageCode = (tag: string): number =>
  (LANGUAGES[tag.toLowerCase().split('-')[0] ?? ''] ?? LANGUAGES.en)?.code ?? 0x09;
