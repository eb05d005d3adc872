/** Whether two states of an album are rendered alike: which deliverables are selected at the moment is none of it. */
export const sameContent = <A extends { readonly unselected: readonly string[] }>(a: A, b: A): boolean =>
  sameValue({ ...a, unselected: [] }, { ...b, unselected: [] });

/** Anything that JSON can say, as far as it is compared and merged here. */
type Json = unknown;
type Named = Readonly<Record<string, Json>>;
/** What tells the members of a list apart: songs have ids, editions and deliverables names. */
type Key = 'id' | 'name';

const isObject = (value: Json): value is Readonly<Record<string, Json>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

const isListOf = (value: Json, key: Key): value is readonly Named[] =>
  Array.isArray(value) &&
  value.every((each) => isObject(each) && typeof each[key] === 'string') &&
  new Set(value.map((each: Named) => each[key])).size === value.length;

const nameIn =
  (key: Key) =>
  (each: Named): string =>
    each[key] as string;

/** Whether two values say the same, whatever the order of their keys. */
export function sameValue(a: Json, b: Json): boolean {
  if (Object.is(a, b)) return true;
  if (Array.isArray(a) && Array.isArray(b))
    return a.length === b.length && a.every((value, i) => sameValue(value, b[i]));
  if (!isObject(a) || !isObject(b)) return false;
  const keys = new Set([...Object.keys(a), ...Object.keys(b)]);
  return [...keys].every((key) => sameValue(a[key], b[key]));
}

/** Two edits meet in one place, so that one can't be taken back without the other. */
class Stuck extends Error {}

/** What becomes of a place that two edits have changed: that is refused, or one of them wins. */
type Winner = 'neither' | 'current' | 'before';

/**
 * Takes one edit back that is not the last: what it changed from `before` to `after` is as before again, what was changed since stays.
 * Lists whose members have ids or names are merged by them, so that a song that was taken out comes back among songs that have moved meanwhile.
 * @returns null where a later edit has changed the same place again
 */
export function takeBack<T>(current: T, before: T, after: T): T | null {
  try {
    return merge(current, before, after, 'neither') as T;
  } catch (error) {
    if (error instanceof Stuck) return null;
    throw error;
  }
}

/** Two states that were made of one, together. */
export interface Merged<T> {
  /** Where both have changed one place: as `mine` has it. */
  readonly mine: T;
  /** The same as `theirs` has it; the very same object where they meet nowhere. */
  readonly theirs: T;
}

/** Puts together what two people have made of one state: fields that only one has changed are as that one has them. */
export function mergeEdits<T>(base: T, mine: T, theirs: T): Merged<T> {
  const [own, other] = (['current', 'before'] as const).map(
    (winner) => merge(mine, theirs, base, winner) as T,
  ) as [T, T];
  return sameValue(own, other) ? { mine: own, theirs: own } : { mine: own, theirs: other };
}

function merge(current: Json, before: Json, after: Json, winner: Winner): Json {
  if (sameValue(before, after)) return current;
  if (sameValue(current, after)) return before;
  if (sameValue(current, before)) return current;
  for (const key of ['id', 'name'] as const)
    if (isListOf(current, key) && isListOf(before, key) && isListOf(after, key))
      return mergeLists(current, before, after, winner, key);
  if (isObject(current) && isObject(before) && isObject(after)) {
    const keys = new Set([...Object.keys(before), ...Object.keys(after), ...Object.keys(current)]);
    const merged = [...keys].map(
      (key) => [key, merge(current[key], before[key], after[key], winner)] as const,
    );
    return Object.fromEntries(merged.filter(([, value]) => value !== undefined));
  }
  if (winner === 'neither') throw new Stuck();
  return winner === 'current' ? current : before;
}

function mergeLists(
  current: readonly Named[],
  before: readonly Named[],
  after: readonly Named[],
  winner: Winner,
  key: Key,
): Named[] {
  const idOf = nameIn(key);
  const byId = (list: readonly Named[]): ReadonlyMap<string, Named> =>
    new Map(list.map((each) => [idOf(each), each]));
  const [now, old, done] = [byId(current), byId(before), byId(after)];
  const order = (list: readonly Named[], others: ReadonlyMap<string, Named>): string[] =>
    list.map(idOf).filter((id) => others.has(id));
  // Reverting removes what the edit added, unless a later edit changed it.
  const workedOn = (each: Named): boolean => {
    const id = idOf(each);
    return done.has(id) && !old.has(id) && !sameValue(now.get(id), done.get(id));
  };
  if (winner === 'neither' && current.some(workedOn)) throw new Stuck();
  const kept = current
    .filter(
      (each) => old.has(idOf(each)) || !done.has(idOf(each)) || (winner === 'current' && workedOn(each)),
    )
    .map((each) => {
      const [was, became] = [old.get(idOf(each)), done.get(idOf(each))];
      return was && became ? (merge(each, was, became, winner) as Named) : each;
    });
  // Of two who have changed a song and taken it out, the winner's wish is done.
  const returned =
    winner === 'before'
      ? before.filter(
          (each) => done.has(idOf(each)) && !now.has(idOf(each)) && !sameValue(each, done.get(idOf(each))),
        )
      : [];
  const gone = new Map([...done].filter(([id]) => !returned.some((each) => idOf(each) === id)));
  const moved = order(before, done).join() !== order(after, old).join();
  const movedSince = order(current, done).join() !== order(after, now).join();
  if (!moved || (movedSince && winner === 'current')) return withGone(kept, before, gone, key);
  // The edit was one of order: it can be undone only until the order changes again.
  if (movedSince && winner === 'neither') throw new Stuck();
  return withGone(inOrderOf(before, kept, key), before, gone, key);
}

/** Sorts the members that both lists share into the order of `other`; all others keep their places. */
function inOrderOf(other: readonly Named[], list: readonly Named[], key: Key): Named[] {
  const idOf = nameIn(key);
  const place = new Map(other.map((each, i) => [idOf(each), i]));
  const sorted = list
    .filter((each) => place.has(idOf(each)))
    .sort((a, b) => (place.get(idOf(a)) ?? 0) - (place.get(idOf(b)) ?? 0));
  let next = 0;
  return list.map((each) => (place.has(idOf(each)) ? (sorted[next++] as Named) : each));
}

/** Puts what an edit had taken out behind what stood before it then, or at the head. */
function withGone(
  list: readonly Named[],
  before: readonly Named[],
  after: ReadonlyMap<string, Named>,
  key: Key,
): Named[] {
  const idOf = nameIn(key);
  const merged = [...list];
  before.forEach((each, i) => {
    if (after.has(idOf(each)) || merged.some((other) => idOf(other) === idOf(each))) return;
    const earlier = before.slice(0, i).map(idOf);
    const place = merged.findLastIndex((other) => earlier.includes(idOf(other)));
    merged.splice(place + 1, 0, each);
  });
  return merged;
}
