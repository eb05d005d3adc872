import { verifyReport, type VerifyReport } from '@oiseau/api';
import type { Db } from '../db/database.js';
import { fromJsonOr, toJson } from '../db/json.js';

/** A report, and when it was made. */
export interface Dated<T> {
  readonly at: Date;
  readonly report: T;
}

const VERIFY = 'verify';

/** Keeps what came of the last look over everything, in the place of the one before. */
export async function storeVerifyReport(db: Db, report: VerifyReport): Promise<void> {
  await db.execute('REPLACE INTO reports (kind, at, document) VALUES (?, UTC_TIMESTAMP(3), ?)', [
    VERIFY,
    toJson(verifyReport, report),
  ]);
}

/** null: never verified. */
export async function lastVerifyReport(db: Db): Promise<Dated<VerifyReport> | null> {
  const found = await db.maybeOne(
    (row) => ({ at: row.at as Date, report: fromJsonOr(verifyReport, row.document, null) }),
    'SELECT at, document FROM reports WHERE kind = ?',
    [VERIFY],
  );
  return found?.report ? { at: found.at, report: found.report } : null;
}
