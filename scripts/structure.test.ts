import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import ts from 'typescript';
import { describe, expect, it } from 'vitest';

const ROOT = resolve(import.meta.dirname, '..');
/** More public names than a newcomer can read at one sitting. */
const MOST_NAMES = 100;

const tracked = execFileSync('git', ['ls-files', '--', '*.ts', '*.tsx'], { cwd: ROOT, encoding: 'utf8' })
  .split('\n')
  .filter((path) => path !== '' && !path.startsWith('core/audio/kernels/') && existsSync(join(ROOT, path)));
const sources = tracked.filter((path) => !/\.(test|spec|d)\.tsx?$/.test(path));

/** An import or a re-export: the module asked for, and the names taken from it; null where all of it is taken. */
interface Asked {
  readonly module: string;
  readonly names: readonly string[] | null;
}

function askedBy(path: string): readonly Asked[] {
  const source = ts.createSourceFile(path, readFileSync(join(ROOT, path), 'utf8'), ts.ScriptTarget.Latest);
  const asked: Asked[] = [];
  const namesOf = (
    list: ts.NamedImportBindings | ts.NamedExportBindings | undefined,
  ): readonly string[] | null =>
    list && 'elements' in list
      ? list.elements.map(({ name, propertyName }) => (propertyName ?? name).text)
      : null;
  const visit = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node) && ts.isStringLiteral(node.moduleSpecifier))
      asked.push({ module: node.moduleSpecifier.text, names: namesOf(node.importClause?.namedBindings) });
    if (ts.isExportDeclaration(node) && node.moduleSpecifier && ts.isStringLiteral(node.moduleSpecifier))
      asked.push({ module: node.moduleSpecifier.text, names: namesOf(node.exportClause) });
    if (ts.isCallExpression(node) && node.expression.kind === ts.SyntaxKind.ImportKeyword) {
      const [module] = node.arguments;
      if (module && ts.isStringLiteral(module)) asked.push({ module: module.text, names: null });
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
  return asked;
}

const imports = new Map(tracked.map((path) => [path, askedBy(path)]));

/** The source file that a relative import leads to; undefined for a package or a file of another kind. */
function target(path: string, module: string): string | undefined {
  if (!module.startsWith('.')) return undefined;
  const bare = join(dirname(path), module).replace(/\.js$/, '');
  return [`${bare}.ts`, `${bare}.tsx`].find((file) => imports.has(file));
}

/** Files that import each other, directly or through others [Tarjan's strongly connected components]. */
function circles(files: readonly string[]): string[][] {
  const found: string[][] = [];
  const stack: string[] = [];
  const index = new Map<string, number>();
  const low = new Map<string, number>();
  const at = (map: Map<string, number>, file: string): number => map.get(file) ?? 0;
  const walk = (file: string): void => {
    index.set(file, index.size);
    low.set(file, at(index, file));
    stack.push(file);
    for (const { module } of imports.get(file) ?? []) {
      const next = target(file, module);
      if (next === undefined) continue;
      if (!index.has(next)) walk(next);
      if (stack.includes(next)) low.set(file, Math.min(at(low, file), at(low, next)));
    }
    if (at(low, file) !== at(index, file)) return;
    const circle = stack.splice(stack.indexOf(file));
    if (circle.length > 1) found.push(circle);
  };
  for (const file of files) if (!index.has(file)) walk(file);
  return found;
}

interface Manifest {
  readonly name: string;
  readonly exports?: Readonly<Record<string, string>>;
  readonly dependencies?: Readonly<Record<string, string>>;
}
const manifests = execFileSync('git', ['ls-files', '--', '*/package.json'], { cwd: ROOT, encoding: 'utf8' })
  .split('\n')
  .filter((path) => path !== '')
  .map((path) => ({
    folder: dirname(path),
    ...(JSON.parse(readFileSync(join(ROOT, path), 'utf8')) as Manifest),
  }));

/** Every public list of names: how it is imported, and its file. */
const lists = manifests.flatMap(({ folder, name, exports = {} }) =>
  Object.entries(exports)
    .filter(([, file]) => file.endsWith('index.ts'))
    .map(([path, file]) => ({ module: join(name, path), file: join(folder, file) })),
);

describe('the structure', () => {
  it('has no circle of imports, of types neither', () => {
    expect(circles(sources)).toEqual([]);
  });

  it('has no public list that is too long to read', () => {
    expect(lists.length).toBeGreaterThan(20);
    const long = lists.flatMap(({ module, file }) => {
      const names = (imports.get(file) ?? []).flatMap(({ names: of }) => of ?? []).length;
      return names > MOST_NAMES ? [`${module}: ${names} names`] : [];
    });
    expect(long).toEqual([]);
  });

  it('makes no name public that nobody outside uses', () => {
    const used = new Set(
      [...imports.values()]
        .flat()
        .flatMap(({ module, names }) => (names ?? []).map((name) => `${module} ${name}`)),
    );
    const unused = lists.flatMap(({ module, file }) =>
      (imports.get(file) ?? [])
        .flatMap(({ names }) => names ?? [])
        .filter((name) => !used.has(`${module} ${name}`))
        .map((name) => `${module} ${name}`),
    );
    expect(unused).toEqual([]);
  });

  it('has every dependency between packages in package.json and in tsconfig.json', () => {
    const missing = manifests.flatMap(({ folder, name, dependencies = {} }) => {
      const { references = [] } = ts.readConfigFile(join(ROOT, folder, 'tsconfig.json'), (file) =>
        ts.sys.readFile(file),
      ).config as { references?: readonly { readonly path: string }[] };
      const referred = references.map(({ path }) => join(folder, path));
      const needed = new Set(
        sources
          .filter((path) => path.startsWith(`${folder}/`) && !path.includes('/testing/'))
          .flatMap((path) => imports.get(path) ?? [])
          .flatMap(({ module }) => /^@oiseau\/\w+/.exec(module)?.[0] ?? [])
          .filter((other) => other !== name),
      );
      return [...needed].flatMap((other) => {
        const of = manifests.find((each) => each.name === other)?.folder ?? '';
        return [
          ...(other in dependencies ? [] : [`${folder}/package.json lacks ${other}`]),
          ...(referred.includes(of) ? [] : [`${folder}/tsconfig.json lacks ${of}`]),
        ];
      });
    });
    expect(missing).toEqual([]);
  });
});
