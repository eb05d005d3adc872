import type { AnswerRecord } from '@oiseau/api';
import { answerSchema } from '@oiseau/formats/papers';
import * as z from 'zod';
import type { Db, Parse } from '../db/database.js';
import { fromJson, toJson } from '../db/json.js';

type Answered = Omit<AnswerRecord, 'at'> & { readonly at: Date };

const verdict = answerSchema.shape.verdict;
const files = z.array(z.object({ path: z.string(), sha256: z.string() }));

const parse: Parse<Answered> = (row) => ({
  id: String(row.id),
  name: String(row.name),
  verdict: verdict.parse(row.verdict),
  words: String(row.words),
  at: row.at as Date,
  files: fromJson(files, row.files) ?? [],
});

const COLUMNS = 'a.id, a.name, a.verdict, a.words, a.at, a.files';

/** The newest first. */
export const answersOn = (db: Db, deliveryId: string): Promise<Answered[]> =>
  db.many(parse, `SELECT ${COLUMNS} FROM answers a WHERE a.delivery_id = ? ORDER BY a.at DESC, a.id`, [
    deliveryId,
  ]);

/** Those of all deliveries of an album, with what they are of. */
export const answersOfAlbum = (
  db: Db,
  albumId: string,
): Promise<(Answered & { readonly deliveryId: string; readonly revision: number })[]> =>
  db.many(
    (row) => ({ ...parse(row), deliveryId: String(row.delivery_id), revision: Number(row.revision) }),
    `SELECT ${COLUMNS}, a.delivery_id, d.revision FROM answers a JOIN deliveries d ON d.id = a.delivery_id
     WHERE d.album_id = ? ORDER BY a.at DESC, a.id`,
    [albumId],
  );

/** What was answered by an invitation, the newest first. */
export const answersOfInvitation = (
  db: Db,
  invitationId: string,
): Promise<Pick<Answered, 'verdict' | 'words' | 'at'>[]> =>
  db.many(
    (row) => {
      const { verdict: said, words, at } = parse(row);
      return { verdict: said, words, at };
    },
    `SELECT ${COLUMNS} FROM answers a WHERE a.invitation_id = ? ORDER BY a.at DESC, a.id`,
    [invitationId],
  );

/** @param invitationId by which it was given; null: by a file that was sent back */
export async function insertAnswer(
  db: Db,
  deliveryId: string,
  answer: Pick<Answered, 'id' | 'name' | 'verdict' | 'words' | 'files'>,
  invitationId: string | null,
): Promise<void> {
  await db.execute(
    'INSERT INTO answers (id, delivery_id, invitation_id, name, verdict, words, files, at) VALUES (?, ?, ?, ?, ?, ?, ?, UTC_TIMESTAMP(3))',
    [
      answer.id,
      deliveryId,
      invitationId,
      answer.name,
      answer.verdict,
      answer.words,
      toJson(files, [...answer.files]),
    ],
  );
}
