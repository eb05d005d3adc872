import { createHash } from 'node:crypto';
import { z } from 'zod';
import { roomFigures, soundFigures } from '@oiseau/api';
import {
  encodersRoomSchema,
  measuredSoundSchema,
  nameOfSound,
  type EncodersRoom,
  type MeasuredSound,
  type RoomFigures,
  type SoundFigures,
  type SoundFiguresByName,
} from '@oiseau/core';
import type { Db, Parse } from '../db/database.js';
import { fromJsonOr, toJson } from '../db/json.js';

/** What may be asked of a sound: how it measures, or what room encoders need. */
export type Asked = MeasuredSound | EncodersRoom;
const askedSchema = z.union([measuredSoundSchema, encodersRoomSchema]);
const answered = z.union([soundFigures, roomFigures]);

/** A treated sound of an album, with what was measured of it. */
export interface SoundRow {
  readonly id: number;
  readonly albumId: string;
  /** SHA-256 of its name. */
  readonly key: string;
  /** null: it can't be read any more, or a later version wrote it. */
  readonly sound: Asked | null;
  readonly figures: SoundFigures | RoomFigures | null;
}

/** A sound's key: the SHA-256 of what tells it from all others. */
export const keyOfSound = (sound: Asked): string =>
  createHash('sha256')
    .update(sound.kind === 'room' ? JSON.stringify(sound) : nameOfSound(sound))
    .digest('hex');

/** SHA-256 of the masters that a sound plays. */
export const mastersOf = (sound: Asked): string[] =>
  sound.kind === 'song'
    ? [sound.master]
    : (sound.kind === 'part' ? sound : sound.part).songs.map(({ region }) => region.master);

const parse: Parse<SoundRow> = (row) => ({
  id: Number(row.id),
  albumId: String(row.album_id),
  key: String(row.sound_key),
  sound: fromJsonOr(askedSchema, row.sound, null),
  figures: fromJsonOr(answered, row.figures, null),
});
const COLUMNS = 'id, album_id, sound_key, sound, figures';

const marks = (values: readonly unknown[]): string => values.map(() => '?').join(', ');

/** Notes that somebody asks for sounds: those that are not known yet have a row from now on. */
export async function noteAsked(db: Db, albumId: string, sounds: readonly Asked[]): Promise<void> {
  for (const sound of sounds)
    await db.execute(
      `INSERT INTO sounds (album_id, sound_key, sound, asked_at) VALUES (?, ?, ?, UTC_TIMESTAMP(3))
       ON DUPLICATE KEY UPDATE asked_at = VALUES(asked_at)`,
      [albumId, keyOfSound(sound), toJson(askedSchema, sound)],
    );
}

/** What is known of sounds of an album, by their keys. */
export function findSounds(db: Db, albumId: string, keys: readonly string[]): Promise<SoundRow[]> {
  if (keys.length === 0) return Promise.resolve([]);
  return db.many(
    parse,
    `SELECT ${COLUMNS} FROM sounds WHERE album_id = ? AND sound_key IN (${marks(keys)})`,
    [albumId, ...keys],
  );
}

export function findSound(db: Db, id: number): Promise<SoundRow | undefined> {
  return db.maybeOne(parse, `SELECT ${COLUMNS} FROM sounds WHERE id = ?`, [id]);
}

/** Figures of those sounds that are measured. */
export async function figuresOf(
  db: Db,
  albumId: string,
  sounds: readonly MeasuredSound[],
): Promise<SoundFiguresByName> {
  const rows = await findSounds(db, albumId, sounds.map(keyOfSound));
  const known = new Map(rows.map(({ key, figures }) => [key, figures]));
  return new Map(
    sounds.flatMap((sound) => {
      const figures = known.get(keyOfSound(sound));
      return figures && 'measurement' in figures ? [[nameOfSound(sound), figures] as const] : [];
    }),
  );
}

/** Whether somebody has asked for a sound within so many seconds. */
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
  figures: SoundFigures | RoomFigures,
  outline: Buffer | null,
  powers: Buffer | null,
): Promise<void> {
  await db.execute('UPDATE sounds SET figures = ?, outline = ?, powers = ? WHERE id = ?', [
    toJson(answered, figures),
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

/** Takes out what nobody has asked for in so many days: it can be measured again. */
export async function forgetSounds(db: Db, days: number): Promise<void> {
  await db.execute('DELETE FROM sounds WHERE asked_at < UTC_TIMESTAMP(3) - INTERVAL ? DAY', [days]);
  await db.execute(
    "DELETE FROM jobs WHERE kind = 'sound' AND finished_at < UTC_TIMESTAMP(3) - INTERVAL 1 DAY AND state IN ('done', 'stopped', 'failed')",
  );
}
