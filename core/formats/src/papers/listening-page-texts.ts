import { msg, READER_LANGUAGES, type ReaderLanguage, type Translator } from '@oiseau/messages';

/** Texts of the exported page. A value is its own name in braces: the page puts it in, in whichever language it is read. */
export const LISTENING_TEXTS = [
  msg('{title} – listening copy', { title: '{title}' }),
  msg('Revision {number}', { number: '{number}' }),
  msg('Cover of {title}', { title: '{title}' }),
  msg('Untitled'),
  msg('Play'),
  msg('Stop'),
  msg('Position'),
  msg('The file “{path}” can’t be played. Keep it beside this page.', { path: '{path}' }),
  msg('Tracks'),
  msg('Disc {label}', { label: '{label}' }),
  msg('Side {label}', { label: '{label}' }),
  msg('runs into the next track'),
  msg('{seconds} s until the next track', { seconds: '{seconds}' }),
  msg('Add a note here'),
  msg('Your notes'),
  msg('Your note'),
  msg('Note at {time}', { time: '{time}' }),
  msg('Delete the note at {time}', { time: '{time}' }),
  msg('Your response'),
  msg('Your name'),
  msg('Approve'),
  msg('Request a change'),
  msg('Comment'),
  msg('Save response'),
  msg('Enter your name.'),
  msg('Do you approve this, or would you like a change?'),
  msg('Your response was saved as a small file. Send it back.'),
];

/** Texts by their English, for each language. */
export type ListeningTexts = Readonly<Record<string, Readonly<Record<string, string>>>>;

/** Words the page in every language of readers: it follows the visitor’s browser. */
export async function listeningTexts(
  translatorFor: (language: ReaderLanguage) => Promise<Translator>,
): Promise<ListeningTexts> {
  const worded = READER_LANGUAGES.map(async (language) => {
    const { say } = await translatorFor(language);
    return [language, Object.fromEntries(LISTENING_TEXTS.map((each) => [each.text, say(each)]))] as const;
  });
  return Object.fromEntries(await Promise.all(worded));
}
