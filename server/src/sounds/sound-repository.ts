import {
  nameOfLineUp,
  nameOfSide,
  nameOfSound,
  type LineUpFigures,
  type LineUpQuestion,
  type LineUpsByName,
  type MeasuredSound,
  type SideFigures,
  type SideQuestion,
  type SidesByName,
  type SoundFigures,
  type SoundFiguresByName,
} from '@oiseau/album/measured';
import type { Db, Parse } from '../db/database.js';
import type { PreparedQuestion } from '../http/compute-pool.js';
import { fromJsonOr, toJson } from '../db/json.js';
import { answerSchema, askedSchema, keyOfSound, type Answer, type Asked } from './asked.js';

/** A treated sound of an album, with what was measured of it. */
export interface SoundRow {
  readonly id: number;
  readonly albumId: string;
  /** SHA-256 of its name. */
  readonly key: string;
  /** null: it can't be read any more, or a later version wrote it. */
  readonly sound: Asked | null;
  readonly figures: Answer | null;
}

const parse: Parse<SoundRow> = (row) => ({
  id: Number(row.id),
  albumId: String(row.album_id),
  key: String(row.sound_key),
  sound: fromJsonOr(askedSchema, row.sound, null),
  figures: fromJsonOr(answerSchema, row.figures, null),
});
const COLUMNS = 'id, album_id, sound_key, sound, figures';

const marks = (values: readonly unknown[]): string => values.map(() => '?').join(', ');

/** Notes that sounds are requested: unknown ones get a row. */
export async function noteAsked(
  db: Db,
  albumId: string,
  questions: readonly PreparedQuestion[],
): Promise<void> {
  for (const { key, text } of questions)
    await db.execute(
      `INSERT INTO sounds (album_id, sound_key, sound, asked_at) VALUES (?, ?, ?, UTC_TIMESTAMP(3))
       ON DUPLICATE KEY UPDATE asked_at = VALUES(asked_at)`,
      [albumId, key, text],
    );
}

/** A question with its answer, null while it is not known. */
export type KnownAnswer = Pick<SoundRow, 'id' | 'key' | 'figures'>;

/** What is known of questions of an album, by their keys. */
export function findAnswers(db: Db, albumId: string, keys: readonly string[]): Promise<KnownAnswer[]> {
  if (keys.length === 0) return Promise.resolve([]);
  return db.many(
    (row) => ({
      id: Number(row.id),
      key: String(row.sound_key),
      figures: fromJsonOr(answerSchema, row.figures, null),
    }),
    `SELECT id, sound_key, figures FROM sounds WHERE album_id = ? AND sound_key IN (${marks(keys)})`,
    [albumId, ...keys],
  );
}

export function findSound(db: Db, id: number): Promise<SoundRow | undefined> {
  return db.maybeOne(parse, `SELECT ${COLUMNS} FROM sounds WHERE id = ?`, [id]);
}

/** What is known of questions, by what `nameOf` calls them. */
async function answersOf<Q extends Asked, A extends Answer>(
  db: Db,
  albumId: string,
  questions: readonly Q[],
  nameOf: (question: Q) => string,
  isAnswer: (answer: Answer) => answer is A,
): Promise<ReadonlyMap<string, A>> {
  const rows = await findAnswers(db, albumId, questions.map(keyOfSound));
  const known = new Map(rows.map(({ key, figures }) => [key, figures]));
  return new Map(
    questions.flatMap((question) => {
      const answer = known.get(keyOfSound(question));
      return answer && isAnswer(answer) ? [[nameOf(question), answer] as const] : [];
    }),
  );
}

/** Figures of those sounds that are measured. */
export const figuresOf = (
  db: Db,
  albumId: string,
  sounds: readonly MeasuredSound[],
): Promise<SoundFiguresByName> =>
  answersOf(db, albumId, sounds, nameOfSound, (answer): answer is SoundFigures => 'measurement' in answer);

/** How recordings lie to their masters, of those that were laid against each other. */
export const foundLineUps = (
  db: Db,
  albumId: string,
  questions: readonly LineUpQuestion[],
): Promise<LineUpsByName> =>
  answersOf(db, albumId, questions, nameOfLineUp, (answer): answer is LineUpFigures => 'found' in answer);

/** Figures of those sides that are measured. */
export const figuresOfSides = (
  db: Db,
  albumId: string,
  questions: readonly SideQuestion[],
): Promise<SidesByName> =>
  answersOf(db, albumId, questions, nameOfSide, (answer): answer is SideFigures => 'course' in answer);

/** Whether a measurement was requested within so many seconds. */
export function isAwaited(db: Db, id: number, seconds: number): Promise<boolean> {
  return db
    .maybeOne(
      () => true,
      'SELECT id FROM sounds WHERE id = ? AND asked_at > UTC_TIMESTAMP(3) - INTERVAL ? SECOND',
      [id, seconds],
    )
    .then((found) => found === true);
}

export async function storeFigures(
  db: Db,
  id: number,
  figures: Answer,
  outline: Buffer | null,
  powers: Buffer | null,
): Promise<void> {
  await db.execute('UPDATE sounds SET figures = ?, outline = ?, powers = ? WHERE id = ?', [
    toJson(answerSchema, figures),
    outline,
    powers,
    id,
  ]);
}

/** What is kept to draw a sound; undefined while it is not measured. */
export async function findSoundBytes(
  db: Db,
  albumId: string,
  key: string,
  which: 'outline' | 'powers',
): Promise<Buffer | undefined> {
  const found = await db.maybeOne(
    (row) => row.bytes as Buffer | null,
    `SELECT ${which === 'outline' ? 'outline' : 'powers'} AS bytes FROM sounds WHERE album_id = ? AND sound_key = ?`,
    [albumId, key],
  );
  return found ?? undefined;
}

/** Deletes figures that weren't requested for so many days: they can be measured again. */
export async function forgetSounds(db: Db, days: number): Promise<void> {
  await db.execute('DELETE FROM sounds WHERE asked_at < UTC_TIMESTAMP(3) - INTERVAL ? DAY', [days]);
  await db.execute(
    "DELETE FROM jobs WHERE kind = 'sound' AND finished_at < UTC_TIMESTAMP(3) - INTERVAL 1 DAY AND state IN ('done', 'stopped', 'failed')",
  );
}
