import type { Message } from '@oiseau/messages';
import { readSentence, storedSentence, type Sentence } from '../jobs/stored-sentence.js';
import { jobState, type JobState } from '@oiseau/api';
import type { Db, Parse } from '../db/database.js';

/** A coded file that was brought into an album and is decoded by a job. */
export interface IntakeRecord extends Sentence {
  readonly id: string;
  readonly albumId: string;
  readonly keyId: string;
  /** Whether the key opens every album. */
  readonly opensAll: boolean;
  readonly upload: string;
  readonly name: string;
  readonly mono: boolean;
  readonly awaits: boolean;
  readonly replaces: string | null;
  readonly jobId: number;
  readonly state: JobState;
  /** 0 to 1. */
  readonly share: number;
  /** What came of it; null until then, and of one that was refused. */
  readonly taken: { readonly sha256: string; readonly bytes: number; readonly known: boolean } | null;
  readonly refusal: (Sentence & { readonly reason: string; readonly message: string }) | null;
}

const refusalIn = (reason: string, column: unknown): NonNullable<IntakeRecord['refusal']> => {
  const { message, words } = readSentence(column);
  return { reason, message: message ?? '', words };
};

const parse: Parse<IntakeRecord> = (row) => ({
  ...{ id: String(row.id), albumId: String(row.album_id), keyId: String(row.key_id) },
  ...{ opensAll: Number(row.opens_all) === 1, upload: String(row.upload), name: String(row.name) },
  ...{ mono: Number(row.mono) === 1, awaits: Number(row.awaits) === 1, jobId: Number(row.job_id) },
  replaces: row.replaces === null ? null : String(row.replaces),
  state: jobState.parse(row.state),
  share: Number(row.share ?? 0),
  ...readSentence(row.message),
  taken:
    row.sha256 === null
      ? null
      : { sha256: String(row.sha256), bytes: Number(row.bytes), known: Number(row.known) === 1 },
  refusal: row.refused === null ? null : refusalIn(String(row.refused), row.refusal),
});

export const findIntake = (db: Db, id: string): Promise<IntakeRecord | undefined> =>
  db.maybeOne(
    parse,
    `SELECT i.*, j.state, j.message, JSON_VALUE(j.progress, '$.share') AS share FROM intakes i JOIN jobs j ON j.id = i.job_id WHERE i.id = ?`,
    [id],
  );

export async function insertIntake(
  db: Db,
  intake: Omit<IntakeRecord, 'state' | 'share' | 'message' | 'taken' | 'refusal'>,
): Promise<void> {
  const { id, albumId, keyId, opensAll, upload, name, mono, awaits, replaces, jobId } = intake;
  await db.execute(
    `INSERT INTO intakes (id, album_id, key_id, opens_all, upload, name, mono, awaits, replaces, job_id, created_at)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, UTC_TIMESTAMP(3))`,
    [id, albumId, keyId, opensAll, upload, name, mono, awaits, replaces, jobId],
  );
}

export async function storeTaken(
  db: Db,
  id: string,
  { sha256, bytes, known }: NonNullable<IntakeRecord['taken']>,
): Promise<void> {
  await db.execute('UPDATE intakes SET sha256 = ?, bytes = ?, known = ? WHERE id = ?', [
    sha256,
    bytes,
    known,
    id,
  ]);
}

export async function storeRefusal(
  db: Db,
  id: string,
  { reason, why }: { readonly reason: string; readonly why: Message | string },
): Promise<void> {
  await db.execute('UPDATE intakes SET refused = ?, refusal = ? WHERE id = ?', [
    reason,
    storedSentence(why),
    id,
  ]);
}

/** What came of files is told for two days. */
export async function forgetOldIntakes(db: Db): Promise<void> {
  await db.execute('DELETE FROM intakes WHERE created_at < UTC_TIMESTAMP(3) - INTERVAL 2 DAY');
}
