import { parse, TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser';
import { printAST } from '@formatjs/icu-messageformat-parser/printer.js';
import { sourceTexts } from '../scripts/messages.js';

const MARKED: Readonly<Record<string, string>> = {
  ...{ a: 'å', e: 'ë', i: 'ï', o: 'ø', u: 'ü' },
  ...{ A: 'Å', E: 'Ë', I: 'Ï', O: 'Ø', U: 'Ü' },
};

const marked = (elements: MessageFormatElement[]): MessageFormatElement[] =>
  elements.map((element) => {
    switch (element.type) {
      case TYPE.literal:
        return {
          ...element,
          value: element.value.replace(/[aeiou]/gi, (letter) => MARKED[letter] ?? letter),
        };
      case TYPE.tag:
        return { ...element, children: marked(element.children) };
      case TYPE.select:
      case TYPE.plural:
        return {
          ...element,
          options: Object.fromEntries(
            Object.entries(element.options).map(([name, option]) => [
              name,
              { ...option, value: marked(option.value) },
            ]),
          ),
        } as MessageFormatElement;
      default:
        return element;
    }
  });

/** A catalogue whose texts have no plain vowel and are a third longer, as many languages are: what is left plain was not translated. */
export const pseudoCatalogue = (): Record<string, string> =>
  Object.fromEntries(
    sourceTexts().map(({ text }) => [
      text,
      `${printAST(marked(parse(text)))}${text.length > 3 ? '·'.repeat(Math.ceil(text.length / 3)) : ''}`,
    ]),
  );

/** Words with a plain vowel that are the same in every language: file formats, units, keys, names of standards, of Oiseau and of a new album’s deliverables. */
export const SAME_EVERYWHERE =
  /\b(?:[\w-]+\.(?:wav|cue|csv|json|txt|zip)|WAVE?|AIFFC?|FLAC|ALAC|AAC|Opus|Vorbis|Ogg|Oiseau|ID3|ReplayGain|MariaDB|Escape|Unicode|\d[\d.,:]*\s?\w+|Engineer|Deutsch|English|Alt|UPC|EAN|ISRC|LUFS|LU|Hz|kHz|SHA256SUMS|image|files)\b/g;
