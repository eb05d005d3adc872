import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import ts from 'typescript';
import { describe, expect, it } from 'vitest';
import { sourceTexts } from './messages.js';
import { COMMENTS, NAMES, PHRASES, type Replaced } from './plain-words.js';

const files = execFileSync('git', ['ls-files', '--cached', '--others', '--exclude-standard'], {
  encoding: 'utf8',
})
  .split('\n')
  .filter((path) => existsSync(path));

/** A text that people may read, and the line it begins in. */
interface Text {
  readonly line: number;
  readonly text: string;
}

/** Attributes that people read or hear. */
const SHOWN = /^(?:title|label|aria-label|placeholder|alt|hint|legend)$/;

const SQL = /\b(?:SELECT|FROM|INSERT|UPDATE|DELETE|WHERE|JSON_EXTRACT)\b/;

/** Markup, and literals with a space: others are names for programs. */
function textsOf(path: string, source: string): Text[] {
  const kind = path.endsWith('x') ? ts.ScriptKind.TSX : ts.ScriptKind.TS;
  const file = ts.createSourceFile(path, source, ts.ScriptTarget.Latest, true, kind);
  const found: Text[] = [];
  const add = (node: ts.Node, text: string): void => {
    if (!SQL.test(text) && /[a-z] /i.test(`${text} `))
      found.push({
        line: file.getLineAndCharacterOfPosition(node.getStart()).line + 1,
        text: text.replaceAll(/\s+/g, ' '),
      });
  };
  const visit = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node) || ts.isLiteralTypeNode(node)) return;
    if (ts.isJsxText(node)) add(node, node.text);
    else if (ts.isStringLiteralLike(node)) {
      const isShown = ts.isJsxAttribute(node.parent) && SHOWN.test(node.parent.name.getText());
      if (isShown || node.text.includes(' ')) add(node, node.text);
    } else if (ts.isTemplateExpression(node))
      add(
        node,
        [node.head, ...node.templateSpans.map(({ literal }) => literal)].map(({ text }) => text).join('…'),
      );
    ts.forEachChild(node, visit);
  };
  visit(file);
  return found;
}

/** All of a list in one expression: most texts have none of them. */
const anyOf = new Map(
  [COMMENTS, NAMES, PHRASES].map((list) => [
    list,
    new RegExp(list.map(({ phrase }) => phrase.source).join('|'), 'i'),
  ]),
);

const report = (path: string, texts: readonly Text[], phrases: readonly Replaced[]): string[] =>
  texts
    .filter(({ text }) => anyOf.get(phrases)?.test(text))
    .flatMap(({ line, text }) =>
      phrases.flatMap(({ phrase, use }) => {
        const found = phrase.exec(text)?.[0];
        return found === undefined ? [] : [`${path}:${line} “${found}”: use ${use}`];
      }),
    );

/** The comment in a line; empty: it has none. */
const commentOf = (line: string): string => /(?:^\s*(?:\/\*\*?|\*)|\/\/|\{\/\*)\s(.*)/.exec(line)?.[1] ?? '';

describe('texts that people read', () => {
  it('have no phrase that was replaced', { timeout: 120_000 }, () => {
    const sources = files.filter(
      (path) =>
        /\.tsx?$/.test(path) &&
        !/\.test\.tsx?$|^e2e\/|\/testing|migrations|scripts\/plain-words/.test(path) &&
        !path.startsWith('core/audio/kernels'),
    );
    expect(sources.length).toBeGreaterThan(500);
    expect(
      sources.flatMap((path) => report(path, textsOf(path, readFileSync(path, 'utf8')), PHRASES)),
    ).toEqual([]);
    // Labels of one word, which the source has in the form of names as well.
    expect(sourceTexts().flatMap(({ file, line, text }) => report(file, [{ line, text }], PHRASES))).toEqual(
      [],
    );
  });

  it('stay plain in the documents', () => {
    // History keeps its words, and the glossary names what is in code.
    const pages = files.filter((path) => path.endsWith('.md') && !/CHANGELOG|glossary/.test(path));
    expect(pages.length).toBeGreaterThan(15);
    // Code is quoted as it is.
    const lines = (path: string): Text[] =>
      readFileSync(path, 'utf8')
        .split('\n')
        .map((text, i) => ({ line: i + 1, text: text.replaceAll(/`[^`]*`/g, '') }));
    expect(pages.flatMap((path) => report(path, lines(path), PHRASES))).toEqual([]);
  });

  it('are read by this test where they stand', () => {
    const texts = textsOf('a.tsx', "const A = () => <p title='Take it out'>Hear it {`for ${a} shops`}</p>;");
    expect(report('a.tsx', texts, PHRASES)).toEqual([
      'a.tsx:1 “Take it out”: use remove, removed',
      'a.tsx:1 “Hear it”: use play',
      'a.tsx:1 “shops”: use store',
    ]);
  });
});

describe('names in code', () => {
  it('that were replaced do not return', () => {
    const sources = files.filter(
      (path) => /\.(?:tsx?|mjs)$/.test(path) && !/scripts\/plain-words|migrations/.test(path),
    );
    const lines = (path: string): Text[] =>
      [path, ...readFileSync(path, 'utf8').split('\n')].map((text, i) => ({ line: i, text }));
    expect(sources.flatMap((path) => report(path, lines(path), NAMES))).toEqual([]);
  });

  it('have comments that name the actor', () => {
    const sources = files.filter(
      (path) => /\.(?:tsx?|mjs|scss)$/.test(path) && !/scripts\/plain-words/.test(path),
    );
    const lines = (path: string): Text[] =>
      readFileSync(path, 'utf8')
        .split('\n')
        .map((text, i) => ({ line: i + 1, text: commentOf(text) }));
    expect(sources.flatMap((path) => report(path, lines(path), COMMENTS))).toEqual([]);
    expect([' * Nobody waits.', 'go(); // somebody', "t('nobody')"].map(commentOf)).toEqual([
      'Nobody waits.',
      'somebody',
      '',
    ]);
  });
});
