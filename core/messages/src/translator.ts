import { IntlMessageFormat, type Formatters } from 'intl-messageformat';
import type { Figure, Message, Value, Values } from './message.js';

/** Texts in a language by their English. */
export type Catalogue = Readonly<Record<string, string>>;

export interface Translator {
  /** BCP 47, such as `de` */
  readonly language: string;
  /** BCP 47; dates and numbers follow it: `de-AT` */
  readonly locale: string;
  /** A message in the language; in English where the catalogue has none. */
  say(message: Message): string;
  /** The same with tags: `values` has a function for each, from its children to what stands there. Pieces in their order. */
  pieces<T>(text: string, values: Values, tags: Readonly<Record<string, (children: T[]) => T>>): readonly T[];
  /** A figure with the decimal sign of the locale. */
  figure(english: string): string;
}

/** Remembers what is costly to make by its arguments. */
function remember<A extends readonly unknown[], R>(make: (...args: A) => R): (...args: A) => R {
  const made = new Map<string, R>();
  return (...args) => {
    const key = JSON.stringify(args);
    const known = made.get(key);
    if (known !== undefined) return known;
    const fresh = make(...args);
    made.set(key, fresh);
    return fresh;
  };
}

const FORMATTERS: Formatters = {
  getNumberFormat: remember((...args) => new Intl.NumberFormat(...args)),
  getDateTimeFormat: remember((...args) => new Intl.DateTimeFormat(...args)),
  getPluralRules: remember((...args) => new Intl.PluralRules(...args)),
};

/**
 * Words messages in a language.
 * @param catalogue none for English
 */
export function createTranslator(language: string, locale = language, catalogue: Catalogue = {}): Translator {
  const decimal = new Intl.NumberFormat(locale).formatToParts(0.5)[1]?.value ?? '.';
  const list = new Intl.ListFormat(locale, { type: 'conjunction' });
  const parsed = remember(
    (text: string, withTags: boolean) =>
      new IntlMessageFormat(text, locale, undefined, { formatters: FORMATTERS, ignoreTag: !withTags }),
  );
  const translated = (text: string): string => catalogue[text] || text;
  const localFigure = (english: string): string =>
    decimal === '.' ? english : english.replace(/(\d)\.(?=\d)/g, `$1${decimal}`);

  const worded = (value: Value): string | number => {
    if (value === null || value === undefined) return '';
    if (typeof value === 'string' || typeof value === 'number') return value;
    if (isList(value)) return list.format(value.map((each) => String(worded(each))));
    return 'figure' in value ? localFigure(value.figure) : say(value);
  };
  const wordedAll = (values: Values): Record<string, string | number> =>
    Object.fromEntries(Object.entries(values).map(([name, value]) => [name, worded(value)]));

  function say({ text, values }: Message): string {
    const own = translated(text);
    if (!values && !own.includes('{')) return own;
    try {
      return String(parsed(own, false).format(wordedAll(values ?? {})));
    } catch {
      // A message of another version, over the network: better as it is written than none.
      return own;
    }
  }

  return {
    language,
    locale,
    say,
    figure: localFigure,
    pieces: (text, values, tags) => {
      const made = parsed(translated(text), true).format<unknown>({ ...wordedAll(values), ...tags } as never);
      return (Array.isArray(made) ? made : [made]) as never[];
    },
  };
}

const isList = (value: Figure | Message | readonly Value[]): value is readonly Value[] =>
  Array.isArray(value);

const ENGLISH = createTranslator('en', 'en-GB');

/** A message in English: for logs, and for programs that word nothing themselves. */
export const english = (message: Message): string => ENGLISH.say(message);
