import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import * as sass from 'sass';
import { expect, it } from 'vitest';

const WEB = join(import.meta.dirname, '..');
const MODULES = join(WEB, '../../node_modules');

const classesOf = (css: string): ReadonlySet<string> =>
  new Set(Array.from(css.matchAll(/\.([a-z][\w-]*)/g), ([, name]) => name ?? ''));

const compiled = (file: string): string =>
  sass.compile(file, {
    loadPaths: [MODULES],
    quietDeps: true,
    silenceDeprecations: ['import', 'global-builtin', 'color-functions', 'if-function'],
  }).css;

/** Everything that stands in a `className`, by the file that it stands in. */
const written = readdirSync(WEB, { recursive: true, encoding: 'utf8' })
  .filter((file) => file.endsWith('.tsx'))
  .flatMap((file) =>
    Array.from(
      readFileSync(join(WEB, file), 'utf8').matchAll(/className=(?:"([^"]*)"|\{([^}]*)\})/g),
      ([, plain, made]) => ({
        file,
        // Of what is put together, the words between quotes.
        names: plain ?? Array.from((made ?? '').matchAll(/'([^']*)'|`([^`]*)`/g), ([all]) => all).join(' '),
      }),
    ),
  );

it('has a rule for every class of Bootstrap that is written in an element', () => {
  const ours = classesOf(compiled(join(WEB, 'theme/theme.scss')));
  const bootstrap = classesOf(readFileSync(join(MODULES, 'bootstrap/dist/css/bootstrap.css'), 'utf8'));
  const asked = written.flatMap(({ file, names }) =>
    (names.match(/[a-z][\w-]*/g) ?? []).map((name) => ({ file, name })),
  );
  // The classes of which the sheet had none would be all of them, were the pattern wrong.
  expect(asked.filter(({ name }) => name === 'flex-grow-1').length).toBeGreaterThan(20);
  expect(asked.filter(({ name }) => bootstrap.has(name) && !ours.has(name))).toEqual([]);
});
