import { describe, expect, it } from 'vitest';
// @ts-expect-error the bench is plain JavaScript, as everything is that it runs beside
import * as plain from './bench-aims.mjs';

const { medianOfThree, standing } = plain as {
  standing(results: object, last: object | null): string;
  medianOfThree<T>(work: () => Promise<T | undefined>, figureOf: (run: T) => number): Promise<T>;
};

describe('what a bench tells', () => {
  it('has each figure beside its aim and the last one, and nothing that was not measured', () => {
    const text = standing(
      { measuring: { ratioToFfmpeg: 0.456 }, treating: { ratioToFfmpeg: 1.2 } },
      { measuring: { ratioToFfmpeg: 0.5 } },
    );
    const [head, ...rows] = text.split('\n');
    expect(head).toMatch(/^work +now +aim +last$/);
    expect(rows.map((row) => row.trim().split(/ {2,}/).slice(1))).toEqual([
      ['0.46', '0.3', '0.5'],
      ['1.2', '0.5', '–'],
    ]);
    expect(standing({}, null)).toBe('');
  });

  it('takes the run in the middle of three, whole', async () => {
    const runs = [{ s: 3 }, { s: 1 }, { s: 2 }];
    expect(
      await medianOfThree(
        async () => Promise.resolve(runs.shift()),
        ({ s }: { s: number }) => s,
      ),
    ).toEqual({ s: 2 });
  });
});
