import type { MasterRecord } from '@oiseau/api';

/** Where a master stands among the versions of one recording. */
export interface Version {
  /** From 1, the oldest. */
  readonly number: number;
  readonly of: number;
  /** The version that was brought in to replace this one, if any. */
  readonly replacedBy: string | null;
}

/** The versions of all masters of an album, by SHA-256. A chain whose older end has left the album begins where it is. */
export function versionsOf(
  masters: readonly Pick<MasterRecord, 'sha256' | 'replaces'>[],
): ReadonlyMap<string, Version> {
  const here = new Set(masters.map(({ sha256 }) => sha256));
  const older = new Map(
    masters.map(({ sha256, replaces }) => [sha256, replaces && here.has(replaces) ? replaces : null]),
  );
  const newer = new Map(
    [...older].flatMap(([sha256, replaced]) => (replaced ? [[replaced, sha256] as const] : [])),
  );
  const count = (sha256: string, next: (of: string) => string | null | undefined): number => {
    let steps = 0;
    for (let at = next(sha256); at; at = next(at)) steps++;
    return steps;
  };
  return new Map(
    masters.map(({ sha256 }) => {
      const before = count(sha256, (of) => older.get(of));
      const after = count(sha256, (of) => newer.get(of));
      return [sha256, { number: before + 1, of: before + 1 + after, replacedBy: newer.get(sha256) ?? null }];
    }),
  );
}
