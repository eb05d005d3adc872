// Collects the texts that people read from the source: the keys of the catalogues in core/messages/languages.
import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import ts from 'typescript';
import { ROOT } from './build.mjs';

/** A text and where it is worded. */
export interface SourceText {
  readonly text: string;
  readonly file: string;
  readonly line: number;
  /** Names of the values and tags that are passed with it; null where they are not written there. */
  readonly given: readonly string[] | null;
}

const SOURCES = ['core', 'api', 'host', 'server', 'web', 'cli'].flatMap((part) => [
  `${part}/**/*.ts`,
  `${part}/**/*.tsx`,
]);
/** Functions whose first argument is a text, and the arguments that name its values. */
const WORDING: Readonly<Record<string, readonly number[]>> = { t: [1], msg: [1], rich: [1, 2] };

function namesIn(call: ts.CallExpression, places: readonly number[]): string[] | null {
  const names: string[] = [];
  for (const place of places) {
    const argument = call.arguments[place];
    if (argument === undefined) continue;
    if (!ts.isObjectLiteralExpression(argument)) return null;
    for (const property of argument.properties) {
      if (property.name === undefined) return null;
      names.push(property.name.getText());
    }
  }
  return names;
}

/** The wording functions that a file imports. */
function importedIn(source: ts.SourceFile): ReadonlySet<string> {
  const names = source.statements.flatMap((statement) => {
    if (!ts.isImportDeclaration(statement)) return [];
    const from = (statement.moduleSpecifier as ts.StringLiteral).text;
    const named = statement.importClause?.namedBindings;
    if (!/\bmessages(?:\.js)?$/.test(from) || !named || !ts.isNamedImports(named)) return [];
    return named.elements.map(({ name }) => name.text);
  });
  return new Set(names.filter((name) => name in WORDING));
}

/** @throws Error where a text is not a literal: it could not be translated */
function textsOf(file: string): SourceText[] {
  const source = ts.createSourceFile(
    file,
    readFileSync(join(ROOT, file), 'utf8'),
    ts.ScriptTarget.Latest,
    true,
  );
  const found: SourceText[] = [];
  const imported = importedIn(source);
  if (imported.size === 0) return found;
  const visit = (node: ts.Node): void => {
    const name = ts.isCallExpression(node) && ts.isIdentifier(node.expression) ? node.expression.text : '';
    if (ts.isCallExpression(node) && imported.has(name)) {
      const line = source.getLineAndCharacterOfPosition(node.getStart()).line + 1;
      const [first] = node.arguments;
      if (!first || !ts.isStringLiteralLike(first))
        throw new Error(`${file}:${line}: the text is not a literal`);
      found.push({ text: first.text, file, line, given: namesIn(node, WORDING[name] ?? []) });
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
  return found;
}

/** Files that define the functions themselves. */
const DEFINITIONS = /(core\/messages\/src|web\/src\/ui\/messages\.ts|\.test\.tsx?$)/;

/** All texts of the source, in the order of the files. */
export const sourceTexts = (): SourceText[] =>
  execFileSync('git', ['ls-files', '--cached', '--others', '--exclude-standard', '--', ...SOURCES], {
    cwd: ROOT,
    encoding: 'utf8',
  })
    .split('\n')
    .filter((file) => file && !DEFINITIONS.test(file) && existsSync(join(ROOT, file)))
    .sort()
    .flatMap(textsOf);

/** Files with texts of the listener’s page and of papers: their languages are more than those of the interface. */
const FOR_READERS = new RegExp(
  `^(?:${[
    'web/src/listener/|web/src/player/player\\.ts',
    'web/src/proof/(?:RowSilhouette|heard-files)|web/src/masters/MasterSilhouette',
    'web/src/ui/(?:IconButton|Notices|format)\\.',
    'core/formats/src/papers/|core/formats/src/disc/(?:pq|cutting)-sheet|host/src/paper-',
    'server/src/access/(?:listener|sign-in-throttle)|server/src/http/(?:api-error|guard)|server/src/deliveries/(?:listener|listening|note-routes|answer|heard)',
    'core/album/src/model/parts\\.ts|core/render/src/kinds/cutting-room|server/src/sheets/',
  ].join('|')})`,
);

/** Languages with a catalogue, and the texts that each must have. */
export const CATALOGUES: Readonly<Record<string, (text: SourceText) => boolean>> = {
  de: () => true,
  fr: ({ file }) => FOR_READERS.test(file),
  es: ({ file }) => FOR_READERS.test(file),
  ja: ({ file }) => FOR_READERS.test(file),
};

export const catalogueFile = (language: string): string =>
  join(ROOT, 'core/messages/languages', `${language}.json`);

/** A catalogue as it is stored. */
export const readCatalogue = (language: string): Record<string, string> =>
  JSON.parse(readFileSync(catalogueFile(language), 'utf8')) as Record<string, string>;

/** The texts that a catalogue must have, each once, in the order of the source. */
export const textsFor = (language: string, texts: readonly SourceText[]): string[] => [
  ...new Set(texts.filter((text) => CATALOGUES[language]?.(text)).map(({ text }) => text)),
];
