/** Whether two states of an album are rendered alike: which deliverables are selected at the moment is none of it. */
export const sameContent = <A extends { readonly unselected: readonly string[] }>(a: A, b: A): boolean =>
  sameValue({ ...a, unselected: [] }, { ...b, unselected: [] });

/** Anything that JSON can say, as far as it is compared and merged here. */
type Json = unknown;
type Named = Readonly<Record<string, Json>> & { readonly id: string };

const isObject = (value: Json): value is Readonly<Record<string, Json>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

const isNamedList = (value: Json): value is readonly Named[] =>
  Array.isArray(value) && value.every((each) => isObject(each) && typeof each.id === 'string');

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
 * Lists whose members have ids are merged by them, so that a song that was taken out comes back among songs that have moved meanwhile.
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
  if (isNamedList(current) && isNamedList(before) && isNamedList(after))
    return mergeLists(current, before, after, winner);
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
): Named[] {
  const byId = (list: readonly Named[]): ReadonlyMap<string, Named> =>
    new Map(list.map((each) => [each.id, each]));
  const [now, old, done] = [byId(current), byId(before), byId(after)];
  const order = (list: readonly Named[], others: ReadonlyMap<string, Named>): string[] =>
    list.map(({ id }) => id).filter((id) => others.has(id));
  // Reverting removes what the edit added, unless a later edit changed it.
  const workedOn = ({ id }: Named): boolean =>
    done.has(id) && !old.has(id) && !sameValue(now.get(id), done.get(id));
  if (winner === 'neither' && current.some(workedOn)) throw new Stuck();
  const kept = current
    .filter((each) => old.has(each.id) || !done.has(each.id) || (winner === 'current' && workedOn(each)))
    .map((each) => {
      const [was, became] = [old.get(each.id), done.get(each.id)];
      return was && became ? (merge(each, was, became, winner) as Named) : each;
    });
  // Of two who have changed a song and taken it out, the winner's wish is done.
  const returned =
    winner === 'before'
      ? before.filter((each) => done.has(each.id) && !now.has(each.id) && !sameValue(each, done.get(each.id)))
      : [];
  const gone = new Map([...done].filter(([id]) => !returned.some((each) => each.id === id)));
  const moved = order(before, done).join() !== order(after, old).join();
  const movedSince = order(current, done).join() !== order(after, now).join();
  if (!moved || (movedSince && winner === 'current')) return withGone(kept, before, gone);
  // The edit was one of order: it can be undone only until the order changes again.
  if (movedSince && winner === 'neither') throw new Stuck();
  return withGone(inOrderOf(before, kept), before, gone);
}

/** Sorts the members that both lists share into the order of `other`; all others keep their places. */
function inOrderOf(other: readonly Named[], list: readonly Named[]): Named[] {
  const place = new Map(other.map(({ id }, i) => [id, i]));
  const sorted = list
    .filter(({ id }) => place.has(id))
    .sort((a, b) => (place.get(a.id) ?? 0) - (place.get(b.id) ?? 0));
  let next = 0;
  return list.map((each) => (place.has(each.id) ? (sorted[next++] as Named) : each));
}

/** Puts what an edit had taken out behind what stood before it then, or at the head. */
function withGone(
  list: readonly Named[],
  before: readonly Named[],
  after: ReadonlyMap<string, Named>,
): Named[] {
  const merged = [...list];
  before.forEach((each, i) => {
    if (after.has(each.id) || merged.some(({ id }) => id === each.id)) return;
    const earlier = before.slice(0, i).map(({ id }) => id);
    const place = merged.findLastIndex(({ id }) => earlier.includes(id));
    merged.splice(place + 1, 0, each);
  });
  return merged;
}
