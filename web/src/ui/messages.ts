import { createTranslator, msg, type Message, type Translator, type Values } from '@oiseau/messages';
import { cloneElement, Fragment, createElement, type ReactElement, type ReactNode } from 'react';

/** The reader's locale where its language is the interface's; elsewhere the language itself. */
function localeFor(language: string): string {
  const own = globalThis.navigator?.languages?.find((locale) => locale.split('-')[0] === language);
  return own ?? (language === 'en' ? 'en-GB' : language);
}

let translator: Translator = createTranslator('en', localeFor('en'));

/** What words all messages of this page. */
export const currentTranslator = (): Translator => translator;

/** Changes the language of all messages that are worded from now on: before the first drawing, or with a drawing of everything. */
export function setLanguage(language: string, catalogue: Readonly<Record<string, string>>): void {
  translator = createTranslator(language, localeFor(language), catalogue);
}

/** A message of the core or of the server in the reader's language; a string is text already. */
export const say = (message: Message | string): string =>
  typeof message === 'string' ? message : translator.say(message);

/** The text in the reader's language. @param text English, in the syntax of ICU MessageFormat; a literal */
export const t = (text: string, values?: Values): string => translator.say(msg(text, values));

/**
 * A sentence with elements in it.
 * @param text English with a tag for each: `Add masters in <link>Masters</link> first.`
 * @param tags an element for each tag, whose children are what the tag encloses
 */
export function rich(
  text: string,
  tags: Readonly<Record<string, ReactElement>>,
  values: Values = {},
): ReactNode {
  const wrap = (element: ReactElement) => (children: ReactNode[]) =>
    children.length > 0 ? cloneElement(element, {}, ...children) : element;
  const pieces = translator.pieces<ReactNode>(
    text,
    values,
    Object.fromEntries(Object.entries(tags).map(([name, element]) => [name, wrap(element)])),
  );
  return createElement(Fragment, {}, ...pieces);
}
