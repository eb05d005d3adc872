import type { Migration } from './migration.js';
import { MIGRATIONS_FROM_011 } from './migrations-011.js';
import { MIGRATIONS_FROM_020 } from './migrations-020.js';

/**
 * The database's history: each entry once, in order, never changed after it was released. Statements of MariaDB's data
 * definition commit by themselves, so each must be harmless when an interrupted migration runs again.
 */
export const MIGRATIONS: readonly Migration[] = [
  {
    name: '001 albums, masters, jobs, revisions and deliveries',
    statements: [
      `CREATE TABLE IF NOT EXISTS albums (
        id CHAR(36) CHARACTER SET ascii PRIMARY KEY,
        document LONGTEXT NOT NULL,
        version INT UNSIGNED NOT NULL,
        created_at DATETIME(3) NOT NULL,
        updated_at DATETIME(3) NOT NULL,
        deleted_at DATETIME(3) NULL
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
      `CREATE TABLE IF NOT EXISTS masters (
        sha256 CHAR(64) CHARACTER SET ascii PRIMARY KEY,
        bytes BIGINT UNSIGNED NOT NULL,
        info LONGTEXT NOT NULL COMMENT 'header as WavInfo',
        measurement LONGTEXT NULL,
        silhouette MEDIUMBLOB NULL COMMENT 'little-endian pairs of 16 bit, one pair for each 1/75 s',
        created_at DATETIME(3) NOT NULL
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
      `CREATE TABLE IF NOT EXISTS album_masters (
        album_id CHAR(36) CHARACTER SET ascii NOT NULL,
        sha256 CHAR(64) CHARACTER SET ascii NOT NULL,
        name VARCHAR(500) NOT NULL,
        added_at DATETIME(3) NOT NULL,
        PRIMARY KEY (album_id, sha256),
        INDEX by_name (name),
        FOREIGN KEY (album_id) REFERENCES albums (id),
        FOREIGN KEY (sha256) REFERENCES masters (sha256)
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
      `CREATE TABLE IF NOT EXISTS pictures (
        sha256 CHAR(64) CHARACTER SET ascii PRIMARY KEY,
        media_type VARCHAR(40) NOT NULL,
        name VARCHAR(500) NOT NULL,
        bytes BIGINT UNSIGNED NOT NULL,
        created_at DATETIME(3) NOT NULL
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
      `CREATE TABLE IF NOT EXISTS jobs (
        id BIGINT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
        kind ENUM('measure', 'render') NOT NULL,
        subject VARCHAR(64) CHARACTER SET ascii NOT NULL COMMENT 'a master or a delivery',
        state ENUM('queued', 'running', 'done', 'failed', 'stopped') NOT NULL DEFAULT 'queued',
        progress LONGTEXT NULL,
        message TEXT NULL,
        worker VARCHAR(80) NULL,
        attempts INT UNSIGNED NOT NULL DEFAULT 0,
        stop_requested BOOLEAN NOT NULL DEFAULT FALSE,
        created_at DATETIME(3) NOT NULL,
        heartbeat_at DATETIME(3) NULL,
        finished_at DATETIME(3) NULL,
        INDEX queue (state, kind, id),
        INDEX by_subject (kind, subject)
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
      `CREATE TABLE IF NOT EXISTS revisions (
        album_id CHAR(36) CHARACTER SET ascii NOT NULL,
        number INT UNSIGNED NOT NULL,
        document LONGTEXT NOT NULL,
        created_at DATETIME(3) NOT NULL,
        PRIMARY KEY (album_id, number),
        FOREIGN KEY (album_id) REFERENCES albums (id)
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
      `CREATE TABLE IF NOT EXISTS deliveries (
        id CHAR(36) CHARACTER SET ascii PRIMARY KEY,
        album_id CHAR(36) CHARACTER SET ascii NOT NULL,
        revision INT UNSIGNED NOT NULL,
        deliverable LONGTEXT NOT NULL,
        job_id BIGINT UNSIGNED NULL,
        proof LONGTEXT NULL,
        created_at DATETIME(3) NOT NULL,
        INDEX by_album (album_id, created_at),
        FOREIGN KEY (album_id, revision) REFERENCES revisions (album_id, number)
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
    ],
  },
  {
    name: '002 masters: coding, text, loudness over time, versions',
    statements: [
      "ALTER TABLE masters ADD COLUMN IF NOT EXISTS coding TEXT NULL COMMENT 'how it was coded; null for plain PCM'",
      "ALTER TABLE masters ADD COLUMN IF NOT EXISTS embedded MEDIUMTEXT NULL COMMENT 'text, marks and cover that lay in the file'",
      "ALTER TABLE masters ADD COLUMN IF NOT EXISTS powers MEDIUMBLOB NULL COMMENT 'little-endian floats, mean power of each 100 ms'",
      "ALTER TABLE album_masters ADD COLUMN IF NOT EXISTS replaces CHAR(64) CHARACTER SET ascii NULL COMMENT 'the master of which this one is a newer version'",
      // What was measured before lacks the newer figures: every master is measured once more.
      'UPDATE masters SET measurement = NULL',
      `INSERT INTO jobs (kind, subject, created_at) SELECT 'measure', sha256, UTC_TIMESTAMP(3) FROM masters
       WHERE sha256 NOT IN (SELECT subject FROM jobs WHERE kind = 'measure' AND state = 'queued')`,
    ],
  },
  {
    name: '003 presets, who asked for a delivery, cleared files, notes',
    statements: [
      `CREATE TABLE IF NOT EXISTS presets (
        name VARCHAR(100) PRIMARY KEY,
        deliverable LONGTEXT NOT NULL,
        created_at DATETIME(3) NOT NULL
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`,
      "ALTER TABLE jobs ADD COLUMN IF NOT EXISTS turn INT NOT NULL DEFAULT 0 COMMENT 'lower goes first'",
      'ALTER TABLE jobs ADD INDEX IF NOT EXISTS queue_by_turn (state, kind, turn, id)',
      "ALTER TABLE deliveries ADD COLUMN IF NOT EXISTS asked_by VARCHAR(200) NOT NULL DEFAULT ''",
      "ALTER TABLE deliveries ADD COLUMN IF NOT EXISTS cleared_at DATETIME(3) NULL COMMENT 'when its files were deleted; the record stays'",
      `CREATE TABLE IF NOT EXISTS notes (
        id CHAR(36) CHARACTER SET ascii PRIMARY KEY,
        delivery_id CHAR(36) CHARACTER SET ascii NOT NULL,
        path VARCHAR(500) NOT NULL,
        seconds DOUBLE NOT NULL COMMENT 'from the start of the file',
        text TEXT NOT NULL,
        created_at DATETIME(3) NOT NULL,
        INDEX by_delivery (delivery_id, path, seconds),
        FOREIGN KEY (delivery_id) REFERENCES deliveries (id)
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
    ],
  },
  {
    name: '004 jobs: kinds are text with a priority',
    statements: [
      'ALTER TABLE jobs MODIFY COLUMN kind VARCHAR(40) CHARACTER SET ascii NOT NULL',
      "ALTER TABLE jobs ADD COLUMN IF NOT EXISTS priority INT NOT NULL DEFAULT 20 COMMENT 'lower goes first'",
      "UPDATE jobs SET priority = 10 WHERE kind = 'measure'",
      'ALTER TABLE jobs ADD INDEX IF NOT EXISTS queue_by_priority (state, priority, turn, id)',
      'ALTER TABLE jobs DROP INDEX IF EXISTS queue_by_turn',
      'ALTER TABLE jobs DROP INDEX IF EXISTS queue',
    ],
  },
  {
    name: '005 keys, sessions, what came in with a key, events',
    statements: [
      `CREATE TABLE IF NOT EXISTS access_keys (
        id VARCHAR(36) CHARACTER SET ascii PRIMARY KEY COMMENT 'first, or a UUID',
        hash CHAR(64) CHARACTER SET ascii NOT NULL UNIQUE COMMENT 'SHA-256 of the key, which is kept nowhere',
        name VARCHAR(200) NOT NULL,
        role VARCHAR(20) CHARACTER SET ascii NOT NULL,
        opens_all BOOLEAN NOT NULL,
        created_at DATETIME(3) NOT NULL,
        seen_at DATETIME(3) NULL,
        taken_back_at DATETIME(3) NULL
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
      `CREATE TABLE IF NOT EXISTS key_albums (
        key_id VARCHAR(36) CHARACTER SET ascii NOT NULL,
        album_id CHAR(36) CHARACTER SET ascii NOT NULL,
        PRIMARY KEY (key_id, album_id),
        INDEX by_album (album_id),
        FOREIGN KEY (key_id) REFERENCES access_keys (id),
        FOREIGN KEY (album_id) REFERENCES albums (id)
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
      `CREATE TABLE IF NOT EXISTS sessions (
        hash CHAR(64) CHARACTER SET ascii PRIMARY KEY COMMENT 'SHA-256 of the cookie',
        key_id VARCHAR(36) CHARACTER SET ascii NOT NULL,
        created_at DATETIME(3) NOT NULL,
        ends_at DATETIME(3) NOT NULL,
        INDEX by_key (key_id),
        INDEX by_end (ends_at),
        FOREIGN KEY (key_id) REFERENCES access_keys (id)
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
      `CREATE TABLE IF NOT EXISTS brought (
        key_id VARCHAR(36) CHARACTER SET ascii NOT NULL,
        sha256 CHAR(64) CHARACTER SET ascii NOT NULL COMMENT 'of a master or a picture that came in with the key',
        at DATETIME(3) NOT NULL,
        PRIMARY KEY (key_id, sha256),
        FOREIGN KEY (key_id) REFERENCES access_keys (id)
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
      `CREATE TABLE IF NOT EXISTS failed_tries (
        address VARCHAR(64) CHARACTER SET ascii PRIMARY KEY,
        tries INT UNSIGNED NOT NULL,
        last_at DATETIME(3) NOT NULL
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
      `CREATE TABLE IF NOT EXISTS events (
        id BIGINT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
        at DATETIME(3) NOT NULL,
        key_id VARCHAR(36) CHARACTER SET ascii NULL,
        who VARCHAR(200) NOT NULL COMMENT 'who held the key then',
        origin VARCHAR(64) CHARACTER SET ascii NOT NULL,
        what VARCHAR(40) CHARACTER SET ascii NOT NULL,
        album_id CHAR(36) CHARACTER SET ascii NULL,
        detail VARCHAR(500) NOT NULL,
        bytes BIGINT UNSIGNED NULL,
        INDEX by_album (album_id, id)
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
      `CREATE TRIGGER IF NOT EXISTS events_stay BEFORE UPDATE ON events FOR EACH ROW
       SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'events are never changed'`,
      `CREATE TRIGGER IF NOT EXISTS events_last BEFORE DELETE ON events FOR EACH ROW
       SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'events are never taken out'`,
      "ALTER TABLE deliveries ADD COLUMN IF NOT EXISTS key_id VARCHAR(36) CHARACTER SET ascii NOT NULL DEFAULT 'first' COMMENT 'who asked for it'",
      "ALTER TABLE notes ADD COLUMN IF NOT EXISTS key_id VARCHAR(36) CHARACTER SET ascii NOT NULL DEFAULT 'first' COMMENT 'who wrote it'",
      // A day of silhouette is 26 MB.
      "ALTER TABLE masters MODIFY COLUMN silhouette LONGBLOB NULL COMMENT 'little-endian pairs of 16 bit, one pair for each 1/75 s'",
      "ALTER TABLE notes ADD COLUMN IF NOT EXISTS author VARCHAR(200) NOT NULL DEFAULT ''",
    ],
  },
  {
    name: '006 jobs: each attempt has a number, its life is a count; deliveries: the attempt that made the files',
    statements: [
      "ALTER TABLE jobs ADD COLUMN IF NOT EXISTS claim INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'grows with each attempt; who holds another gives up'",
      "ALTER TABLE jobs ADD COLUMN IF NOT EXISTS beat INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'grows with each heartbeat; no clock can be set that changes it'",
      "ALTER TABLE deliveries ADD COLUMN IF NOT EXISTS attempt VARCHAR(40) CHARACTER SET ascii NOT NULL DEFAULT '' COMMENT 'folder of the attempt that made the files; empty before there were such'",
    ],
  },
  {
    name: '007 the sum of decoded audio; reports; versions and comparisons',
    statements: [
      "ALTER TABLE masters ADD COLUMN IF NOT EXISTS decoded_sha256 CHAR(64) CHARACTER SET ascii NULL COMMENT 'of the decoded audio of a coded master; null where it was decoded before this was kept'",
      "ALTER TABLE revisions ADD COLUMN IF NOT EXISTS made TEXT NULL COMMENT 'the versions at work when it was numbered'",
      "ALTER TABLE deliveries ADD COLUMN IF NOT EXISTS compared MEDIUMTEXT NULL COMMENT 'laid against an earlier render of the same revision and settings'",
      `CREATE TABLE IF NOT EXISTS reports (
        kind VARCHAR(40) CHARACTER SET ascii PRIMARY KEY COMMENT 'what was looked over; the last report of each stays',
        at DATETIME(3) NOT NULL,
        document LONGTEXT NOT NULL
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
    ],
  },
  {
    name: '008 what lists need of an album; what nothing uses; signs of workers',
    statements: [
      "ALTER TABLE albums ADD COLUMN IF NOT EXISTS listed_version INT UNSIGNED NULL COMMENT 'the version that the columns after it tell of'",
      "ALTER TABLE albums ADD COLUMN IF NOT EXISTS title TEXT NOT NULL DEFAULT ''",
      "ALTER TABLE albums ADD COLUMN IF NOT EXISTS performer TEXT NOT NULL DEFAULT ''",
      'ALTER TABLE albums ADD COLUMN IF NOT EXISTS artwork CHAR(64) CHARACTER SET ascii NULL',
      'ALTER TABLE albums ADD COLUMN IF NOT EXISTS tracks INT UNSIGNED NOT NULL DEFAULT 0',
      "ALTER TABLE albums ADD COLUMN IF NOT EXISTS frames BIGINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'how long it is, in CD frames'",
      "ALTER TABLE albums ADD COLUMN IF NOT EXISTS damaged BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'it can not be read any more'",
      'ALTER TABLE albums ADD INDEX IF NOT EXISTS by_change (deleted_at, updated_at, id)',
      'ALTER TABLE albums ADD INDEX IF NOT EXISTS by_listing (listed_version, version)',
      `CREATE TABLE IF NOT EXISTS album_isrcs (
        album_id CHAR(36) CHARACTER SET ascii NOT NULL,
        isrc CHAR(12) CHARACTER SET ascii NOT NULL,
        INDEX by_album (album_id),
        FOREIGN KEY (album_id) REFERENCES albums (id)
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
      "ALTER TABLE masters ADD COLUMN IF NOT EXISTS unused_since DATETIME(3) NULL COMMENT 'since when nothing uses it; null: it is used'",
      "ALTER TABLE pictures ADD COLUMN IF NOT EXISTS unused_since DATETIME(3) NULL COMMENT 'since when nothing uses it; null: it is used'",
      `CREATE TABLE IF NOT EXISTS workers (
        name VARCHAR(80) PRIMARY KEY,
        seen_at DATETIME(3) NOT NULL,
        trouble VARCHAR(500) NULL COMMENT 'why it can not work'
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
    ],
  },
  {
    name: '009 which media store belongs to this database',
    statements: [
      `CREATE TABLE IF NOT EXISTS media_store (
        id CHAR(36) CHARACTER SET ascii PRIMARY KEY COMMENT 'as it stands in the store, in the file store.id'
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
    ],
  },
  {
    name: '010 what is measured of treated sounds; presets of treatments',
    statements: [
      `CREATE TABLE IF NOT EXISTS sounds (
        id BIGINT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
        album_id CHAR(36) CHARACTER SET ascii NOT NULL,
        sound_key CHAR(64) CHARACTER SET ascii NOT NULL COMMENT 'SHA-256 of what tells it from all others',
        sound LONGTEXT NOT NULL,
        figures LONGTEXT NULL COMMENT 'null until it is measured',
        outline LONGBLOB NULL COMMENT 'peak and RMS of each 1/75 s, then what is taken away',
        powers LONGBLOB NULL COMMENT 'mean power of each 100 ms, 32-bit floats',
        asked_at DATETIME(3) NOT NULL COMMENT 'when somebody last wanted to know',
        UNIQUE KEY by_key (album_id, sound_key),
        INDEX by_time (asked_at),
        FOREIGN KEY (album_id) REFERENCES albums (id)
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
      `CREATE TABLE IF NOT EXISTS treatments (
        name VARCHAR(100) PRIMARY KEY,
        treatment LONGTEXT NOT NULL,
        created_at DATETIME(3) NOT NULL
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
    ],
  },
  ...MIGRATIONS_FROM_011,
  ...MIGRATIONS_FROM_020,
];
