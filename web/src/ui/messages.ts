import { Failure } from '@oiseau/audio/errors';
import { createTranslator, msg, type Message, type Translator, type Values } from '@oiseau/messages';
import { cloneElement, createElement, Fragment, type ReactElement, type ReactNode } from 'react';
import de from '@oiseau/messages/languages/de.json?url&no-inline';
import es from '@oiseau/messages/languages/es.json?url&no-inline';
import fr from '@oiseau/messages/languages/fr.json?url&no-inline';
import ja from '@oiseau/messages/languages/ja.json?url&no-inline';
import { languageOfPage } from './language.js';

const CATALOGUES: Readonly<Record<string, string>> = { de, es, fr, ja };

/** The reader's locale where its language is the page's, `de-AT`; otherwise the language itself. */
function localeFor(language: string): string {
  const own = globalThis.navigator?.languages?.find((locale) => locale.split('-')[0] === language);
  return own ?? (language === 'en' ? 'en-GB' : language);
}

/** A catalogue that can't be loaded leaves the page in English: readable, and usable at once. */
async function translatorOfPage(): Promise<Translator> {
  const language = languageOfPage();
  const address = CATALOGUES[language];
  if (address === undefined) return createTranslator('en', localeFor('en'));
  try {
    const catalogue = (await (await fetch(address)).json()) as Readonly<Record<string, string>>;
    document.documentElement.lang = language;
    return createTranslator(language, localeFor(language), catalogue);
  } catch {
    return createTranslator('en', localeFor('en'));
  }
}

// Awaited here, so that modules can word their tables while they load.
export const translator = await translatorOfPage();

/** BCP 47; dates and numbers follow it. */
export const { locale } = translator;

/** A figure with the reader's decimal sign. @param english such as `−1.20` or `0:42.310` */
export const { figure } = translator;

/** A message of the core or of the server in the reader's language; a string is worded already. */
export const say = (message: Message | string): string =>
  typeof message === 'string' ? message : translator.say(message);

/** Why something failed, in the reader’s language where the server said it as a message. */
export const saySentence = ({
  message,
  words,
}: {
  readonly message: string | null;
  readonly words?: Message | undefined;
}): string | null => (words ? say(words) : message);

/** What an error says, in the reader’s language where it is one of ours. */
export function errorText(error: unknown): string {
  if (error instanceof Failure && error.words) return say(error.words);
  return error instanceof Error ? error.message : String(error);
}

/** What is wrong with a text that was typed; undefined: nothing. */
export const sayFault = (fault: Message | undefined): string | undefined => fault && say(fault);

/**
 * A text in the reader's language.
 * @param text English, in the syntax of ICU MessageFormat; a literal, which is the key of the catalogues
 */
export const t = (text: string, values?: Values): string => translator.say(msg(text, values));

/**
 * A sentence with elements in it.
 * @param text English with a tag for each element: `Add masters in <link>Masters</link> first.`
 * @param tags the element of each tag; its children are what the tag encloses
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
