import type { Db } from '../db/database.js';

export interface Picture {
  readonly sha256: string;
  readonly mediaType: string;
  readonly bytes: number;
}

export function findPicture(db: Db, sha256: string): Promise<Picture | undefined> {
  return db.maybeOne(
    (row) => ({ sha256: String(row.sha256), mediaType: String(row.media_type), bytes: Number(row.bytes) }),
    'SELECT sha256, media_type, bytes FROM pictures WHERE sha256 = ?',
    [sha256],
  );
}

export async function insertPicture(db: Db, picture: Picture, name: string): Promise<void> {
  await db.execute(
    `INSERT INTO pictures (sha256, media_type, name, bytes, created_at) VALUES (?, ?, ?, ?, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE media_type = VALUES(media_type)`,
    [picture.sha256, picture.mediaType, name.slice(0, 500), picture.bytes],
  );
}
