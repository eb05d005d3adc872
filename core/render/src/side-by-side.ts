/**
 * Does one piece of work for each item, at most so many at a time, and gives the results in the order of the items. Whatever fails, every
 * piece that was begun has ended when this does.
 */
export async function sideBySide<Item, Result>(
  items: readonly Item[],
  most: number,
  work: (item: Item, index: number) => Promise<Result>,
): Promise<Result[]> {
  const results: Result[] = [];
  let next = 0;
  let failed = false;
  const one = async (): Promise<void> => {
    while (next < items.length && !failed) {
      const index = next++;
      try {
        results[index] = await work(items[index] as Item, index);
      } catch (error) {
        failed = true;
        throw error;
      }
    }
  };
  const ends = await Promise.allSettled(Array.from({ length: most }, one));
  for (const end of ends) if (end.status === 'rejected') throw end.reason;
  return results;
}

/** Lets pieces of work in as they come, at most so many at a time, in the order in which they came. */
export class Turns {
  #free: number;
  readonly #waiting: (() => void)[] = [];

  constructor(most: number) {
    this.#free = most;
  }

  async take<Result>(work: () => Promise<Result>): Promise<Result> {
    if (this.#free > 0) this.#free--;
    else await new Promise<void>((resolve) => this.#waiting.push(resolve));
    try {
      return await work();
    } finally {
      const next = this.#waiting.shift();
      if (next) next();
      else this.#free++;
    }
  }
}
