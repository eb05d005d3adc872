/**
 * Does work for each item, so many at a time and ahead of the consumer, and gives the results in the order of the items. A consumer that leaves early
 * leaves nothing under way.
 * @param width so many may be under way or waiting to be taken once an item is begun, 1 or more
 */
export async function* inOrder<Item, Result>(
  items: Iterable<Item>,
  width: (item: Item) => number,
  work: (item: Item) => Promise<Result>,
): AsyncGenerator<Result, void, undefined> {
  const underWay: Promise<Result>[] = [];
  try {
    for (const item of items) {
      const begun = work(item);
      // A failure is reported when its result is taken, not before.
      begun.catch(() => undefined);
      underWay.push(begun);
      while (underWay.length >= width(item)) yield (await underWay.shift()) as Result;
    }
    while (underWay.length > 0) yield (await underWay.shift()) as Result;
  } finally {
    await Promise.allSettled(underWay);
  }
}
