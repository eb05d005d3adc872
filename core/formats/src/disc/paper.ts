import type { Figure, Message, ReaderLanguage, Translator } from '@oiseau/messages';

/** A string is text of people, a code or a time: the same in every language. */
export type PaperText = string | Figure | Message;

/** A sheet for people, to be printed: its content, and nothing of how it looks. */
export interface PaperOf<Text> {
  readonly title: string;
  readonly author: string;
  /** Such as “PQ sheet”. */
  readonly kind: Text;
  /** Short facts over the table, by name; those with an empty value are left out. */
  readonly facts: readonly (readonly [name: Text, value: Text])[];
  readonly columns: readonly PaperColumn<Text>[];
  readonly rows: readonly PaperRow<Text>[];
  /** Sentences under the table. */
  readonly notes: readonly Text[];
}

interface PaperColumn<Text> {
  readonly name: Text;
  /** Its width, in hundredths of the table; together they are 100. */
  readonly share: number;
  readonly isNumber: boolean;
}

export interface PaperRow<Text> {
  /** One for each column. */
  readonly cells: readonly Text[];
  readonly isStrong?: boolean;
}

/** A sheet before it is worded, and the language in which it is printed. */
export interface Paper extends PaperOf<PaperText> {
  readonly language: ReaderLanguage;
}

/** Words every text of a sheet. */
export function wordPaper(paper: PaperOf<PaperText>, { say, figure }: Translator): PaperOf<string> {
  const word = (text: PaperText): string => {
    if (typeof text === 'string') return text;
    return 'figure' in text ? figure(text.figure) : say(text);
  };
  return {
    ...{ title: paper.title, author: paper.author, kind: word(paper.kind) },
    facts: paper.facts.map(([name, value]) => [word(name), word(value)]),
    columns: paper.columns.map((column) => ({ ...column, name: word(column.name) })),
    rows: paper.rows.map((row) => ({ ...row, cells: row.cells.map(word) })),
    notes: paper.notes.map(word),
  };
}
