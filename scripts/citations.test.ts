import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';

/** Every source file that git knows or would take. */
const sources = execFileSync('git', ['ls-files', '--cached', '--others', '--exclude-standard'], {
  encoding: 'utf8',
})
  .split('\n')
  .filter((path) => /\.(ts|tsx|mjs|scss)$/.test(path) && existsSync(path));

/** Numbers of the headings of a page: “3.4” of `### 3.4 Indexes and samples`. */
const headings = (page: string): Set<string> =>
  new Set(
    [...readFileSync(page, 'utf8').matchAll(/^#{2,4} (\d+(?:\.\d+)*) \S/gm)].map(
      ([, number]) => number ?? '',
    ),
  );

/** What source files cite: a page of docs/ and the number of a heading. */
const citations = sources.flatMap((path) =>
  [...readFileSync(path, 'utf8').matchAll(/\b(docs\/[\w-]+\.md)(?: (\d+(?:\.\d+)*))?/g)].map(
    ([, page = '', number]) => ({ path, page, number }),
  ),
);

describe('citations in code', () => {
  it('lead to a heading that is there', () => {
    expect(citations.length).toBeGreaterThan(30);
    const astray = citations.filter(({ page, number }) => {
      if (!existsSync(page)) return true;
      return number !== undefined && !headings(page).has(number);
    });
    expect(astray).toEqual([]);
  });

  it('of the rules and the album file name the heading', () => {
    const vague = citations.filter(
      ({ page, number }) => /rules|album-file/.test(page) && number === undefined,
    );
    expect(vague).toEqual([]);
  });

  it('name no page that a reader of the repository does not have', () => {
    const strangers = sources.filter(
      (path) =>
        !path.endsWith('citations.test.ts') &&
        /\b(trade|job|design)\.md\b|(?<!docs\/)\b(rules|album-file)\.md\b/.test(readFileSync(path, 'utf8')),
    );
    expect(strangers).toEqual([]);
  });
});
