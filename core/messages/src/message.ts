/** A number with its unit as English writes it, `−1.20 dB`: a translator changes its decimal sign. */
export interface Figure {
  readonly figure: string;
}

/** null and undefined are worded as nothing. */
export type Value = string | number | Figure | Message | readonly Value[] | null | undefined;
export type Values = Readonly<Record<string, Value>>;

/** A text that people read, not worded yet: what the core and the server hand on, and what is sent over HTTP. */
export interface Message {
  /** English, in the syntax of ICU MessageFormat. It is also the key of every catalogue. */
  readonly text: string;
  readonly values?: Values;
}

/**
 * A message, to be worded where it is read.
 * @param text English, in the syntax of ICU MessageFormat; a literal, so that the catalogues can be checked
 * @param values by the names in the text; a list becomes `a, b and c`, a message is worded first
 */
export const msg = (text: string, values?: Values): Message => (values ? { text, values } : { text });

/** Several after each other, `low cut 28 Hz, limiter −1 dB`: not a sentence, so without an “and”. */
export const joined = (values: readonly Value[], separator = ', '): Message => ({
  text: values.map((_, i) => `{v${i}}`).join(separator),
  values: Object.fromEntries(values.map((value, i) => [`v${i}`, value])),
});

/** Text of people, such as a title: the same in every language. */
export const verbatim = (text: string): Message => ({ text: '{text}', values: { text } });

/** @param english such as `−1.20 dB` or `0:42.310` */
export const figure = (english: string): Figure => ({ figure: english });
