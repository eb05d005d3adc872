import type { Migration } from './migration.js';

/** SQL of a row for the list of changes. @param version SQL of an album's version */
const noted = (what: string, subject: string, version = 'NULL'): string =>
  `INSERT INTO changes (what, subject, version, at) VALUES (${what}, ${subject}, ${version}, UTC_TIMESTAMP(3))`;

/** A trigger that writes constants and columns of its own row only: reading other tables there would lock them. */
const trigger = (table: string, event: 'INSERT' | 'UPDATE' | 'DELETE', work: string): string =>
  `CREATE TRIGGER IF NOT EXISTS ${table}_${event.toLowerCase()}_noted AFTER ${event} ON ${table} FOR EACH ROW ${work}`;

/** The same for each of the events. */
const triggers = (table: string, what: string, column: string): string[] => [
  trigger(table, 'INSERT', noted(`'${what}'`, `NEW.${column}`)),
  trigger(table, 'UPDATE', noted(`'${what}'`, `NEW.${column}`)),
  trigger(table, 'DELETE', noted(`'${what}'`, `OLD.${column}`)),
];

const JOB = noted("CONCAT('job ', NEW.kind)", 'NEW.subject');

/** The database's history from migration 020 on. */
export const MIGRATIONS_FROM_020: readonly Migration[] = [
  {
    name: '020 changes that open pages are told of',
    statements: [
      `CREATE TABLE IF NOT EXISTS changes (
        id BIGINT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
        what VARCHAR(20) CHARACTER SET ascii NOT NULL COMMENT 'what the subject names',
        subject VARCHAR(64) CHARACTER SET ascii NOT NULL,
        version INT UNSIGNED NULL COMMENT 'of an album',
        at DATETIME(3) NOT NULL,
        INDEX by_time (at)
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
      trigger('albums', 'INSERT', noted("'album'", 'NEW.id', 'NEW.version')),
      // What the Shelf lists stands in the same row: bringing that up to date is no change of the album.
      trigger(
        'albums',
        'UPDATE',
        `IF NEW.version <> OLD.version OR NOT (NEW.deleted_at <=> OLD.deleted_at) THEN ${noted("'album'", 'NEW.id', 'NEW.version')}; END IF`,
      ),
      ...triggers('album_masters', 'album masters', 'album_id'),
      // Whether anything uses a master concerns the clean-up alone.
      trigger(
        'masters',
        'UPDATE',
        `IF NEW.unused_since <=> OLD.unused_since THEN ${noted("'master'", 'NEW.sha256')}; END IF`,
      ),
      trigger('jobs', 'INSERT', JOB),
      // A sign of life alone is no change.
      trigger(
        'jobs',
        'UPDATE',
        `IF NOT (NEW.state <=> OLD.state AND NEW.progress <=> OLD.progress AND NEW.message <=> OLD.message
          AND NEW.stop_requested <=> OLD.stop_requested AND NEW.turn <=> OLD.turn) THEN ${JOB}; END IF`,
      ),
      ...triggers('deliveries', 'album deliveries', 'album_id'),
      ...triggers('notes', 'notes', 'delivery_id'),
      ...triggers('answers', 'answers', 'delivery_id'),
      trigger('invitations', 'INSERT', noted("'invitations'", 'NEW.delivery_id')),
      // Each request of a listener says when they were seen last: no change.
      trigger(
        'invitations',
        'UPDATE',
        `IF NEW.seen_at <=> OLD.seen_at OR NOT (NEW.opened_at <=> OLD.opened_at) THEN ${noted("'invitations'", 'NEW.delivery_id')}; END IF`,
      ),
      ...triggers('handovers', 'handovers', 'delivery_id'),
      ...triggers('receivers', 'receiver', 'id'),
    ],
  },
  {
    name: '021 changes of albums, for who has an earlier version',
    statements: [
      `CREATE TABLE IF NOT EXISTS album_changes (
        album_id CHAR(36) CHARACTER SET ascii NOT NULL,
        version INT UNSIGNED NOT NULL COMMENT 'that the change has led to',
        patch LONGTEXT NOT NULL COMMENT 'JSON Patch (RFC 6902) of the document',
        who VARCHAR(200) NOT NULL,
        at DATETIME(3) NOT NULL,
        PRIMARY KEY (album_id, version),
        INDEX by_time (at),
        FOREIGN KEY (album_id) REFERENCES albums (id)
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
    ],
  },
];
