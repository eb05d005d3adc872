import type { Migration } from './migration.js';

/** The database's history from migration 011 to 019. */
export const MIGRATIONS_FROM_011: readonly Migration[] = [
  {
    name: '011 receivers and what was handed over to them',
    statements: [
      `CREATE TABLE IF NOT EXISTS receivers (
        id CHAR(36) CHARACTER SET ascii PRIMARY KEY,
        kind VARCHAR(20) CHARACTER SET ascii NOT NULL,
        name VARCHAR(100) NOT NULL,
        url VARCHAR(500) NOT NULL,
        token TEXT NOT NULL COMMENT 'what we show it; never told to anybody else',
        stand_in BOOLEAN NOT NULL,
        created_at DATETIME(3) NOT NULL,
        removed_at DATETIME(3) NULL
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
      `CREATE TABLE IF NOT EXISTS handovers (
        id CHAR(36) CHARACTER SET ascii PRIMARY KEY COMMENT 'the receiver knows it by this too, so that nothing is sent twice',
        delivery_id CHAR(36) CHARACTER SET ascii NOT NULL,
        receiver_id CHAR(36) CHARACTER SET ascii NOT NULL,
        receiver_name VARCHAR(100) NOT NULL COMMENT 'as it was called then',
        kind VARCHAR(20) CHARACTER SET ascii NOT NULL,
        writing TEXT NULL COMMENT 'how a disc is written',
        asked_by VARCHAR(200) NOT NULL,
        created_at DATETIME(3) NOT NULL,
        job_id BIGINT UNSIGNED NOT NULL,
        paused BOOLEAN NOT NULL DEFAULT FALSE,
        trouble VARCHAR(500) NULL COMMENT 'what keeps it from going on at the moment',
        remote VARCHAR(200) NULL COMMENT 'what the receiver calls it',
        bytes BIGINT UNSIGNED NOT NULL DEFAULT 0,
        sums CHAR(64) CHARACTER SET ascii NULL COMMENT 'one sum over what was sent',
        sent_at DATETIME(3) NULL COMMENT 'when everything had arrived',
        told LONGTEXT NULL COMMENT 'what the receiver said last',
        looked_at DATETIME(3) NULL COMMENT 'when the receiver was asked last',
        INDEX by_delivery (delivery_id),
        INDEX by_receiver (receiver_id),
        FOREIGN KEY (delivery_id) REFERENCES deliveries (id),
        FOREIGN KEY (receiver_id) REFERENCES receivers (id)
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
    ],
  },
  {
    name: '012 what listeners answered',
    statements: [
      `CREATE TABLE IF NOT EXISTS answers (
        id CHAR(36) CHARACTER SET ascii PRIMARY KEY,
        delivery_id CHAR(36) CHARACTER SET ascii NOT NULL,
        name VARCHAR(200) NOT NULL COMMENT 'who',
        verdict VARCHAR(20) CHARACTER SET ascii NOT NULL,
        words TEXT NOT NULL,
        files LONGTEXT NOT NULL COMMENT 'what was listened to, by content',
        at DATETIME(3) NOT NULL,
        INDEX by_delivery (delivery_id),
        FOREIGN KEY (delivery_id) REFERENCES deliveries (id)
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
    ],
  },
  {
    name: '013 who may listen without a key; notes and answers of theirs; notes that are ticked off',
    statements: [
      `CREATE TABLE IF NOT EXISTS invitations (
        id CHAR(36) CHARACTER SET ascii PRIMARY KEY,
        delivery_id CHAR(36) CHARACTER SET ascii NOT NULL,
        hash CHAR(64) CHARACTER SET ascii NOT NULL UNIQUE COMMENT 'SHA-256 of the secret in its address',
        listener_id CHAR(36) CHARACTER SET ascii NOT NULL COMMENT 'the same for each invitation of the same person',
        name VARCHAR(200) NOT NULL,
        password VARCHAR(200) CHARACTER SET ascii NULL COMMENT 'salt and scrypt, in hex',
        asked_by VARCHAR(200) NOT NULL,
        created_at DATETIME(3) NOT NULL,
        ends_at DATETIME(3) NOT NULL,
        taken_back_at DATETIME(3) NULL,
        opened_at DATETIME(3) NULL,
        seen_at DATETIME(3) NULL,
        INDEX by_delivery (delivery_id),
        INDEX by_listener (listener_id),
        FOREIGN KEY (delivery_id) REFERENCES deliveries (id)
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
      `CREATE TABLE IF NOT EXISTS listener_sessions (
        hash CHAR(64) CHARACTER SET ascii PRIMARY KEY,
        invitation_id CHAR(36) CHARACTER SET ascii NOT NULL,
        created_at DATETIME(3) NOT NULL,
        FOREIGN KEY (invitation_id) REFERENCES invitations (id)
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
      "ALTER TABLE notes MODIFY COLUMN key_id VARCHAR(36) CHARACTER SET ascii NULL DEFAULT 'first' COMMENT 'who wrote it; null: somebody without a key'",
      "ALTER TABLE notes ADD COLUMN IF NOT EXISTS invitation_id CHAR(36) CHARACTER SET ascii NULL COMMENT 'by which it was written'",
      'ALTER TABLE notes ADD COLUMN IF NOT EXISTS met_at DATETIME(3) NULL',
      'ALTER TABLE notes ADD INDEX IF NOT EXISTS by_invitation (invitation_id)',
      "ALTER TABLE answers ADD COLUMN IF NOT EXISTS invitation_id CHAR(36) CHARACTER SET ascii NULL COMMENT 'by which it was given; null: by a file'",
    ],
  },
  {
    name: '014 masters that came in and wait to become tracks',
    statements: [
      "ALTER TABLE album_masters ADD COLUMN IF NOT EXISTS awaits BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'nobody has said yet what becomes of it'",
    ],
  },
  {
    name: '015 coded files that jobs decode',
    statements: [
      `CREATE TABLE IF NOT EXISTS intakes (
        id CHAR(36) CHARACTER SET ascii PRIMARY KEY,
        album_id CHAR(36) CHARACTER SET ascii NOT NULL,
        key_id VARCHAR(36) CHARACTER SET ascii NOT NULL,
        opens_all BOOLEAN NOT NULL,
        upload CHAR(32) CHARACTER SET ascii NOT NULL,
        name TEXT NOT NULL,
        mono BOOLEAN NOT NULL,
        awaits BOOLEAN NOT NULL,
        replaces CHAR(64) CHARACTER SET ascii NULL,
        job_id BIGINT NOT NULL,
        sha256 CHAR(64) CHARACTER SET ascii NULL COMMENT 'what came of it',
        bytes BIGINT NULL,
        known BOOLEAN NULL,
        refused VARCHAR(40) CHARACTER SET ascii NULL COMMENT 'the reason why nothing did',
        refusal TEXT NULL,
        created_at DATETIME(3) NOT NULL,
        INDEX by_album (album_id)
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
    ],
  },
  {
    name: '016 what a worker that gives signs does',
    statements: [
      "ALTER TABLE workers ADD COLUMN IF NOT EXISTS role VARCHAR(20) CHARACTER SET ascii NULL COMMENT 'whose jobs it does; null: all'",
    ],
  },
  {
    name: '017 lengths of albums that break the rules',
    statements: [
      "ALTER TABLE albums MODIFY COLUMN frames BIGINT NOT NULL DEFAULT 0 COMMENT 'length in CD frames'",
    ],
  },
  {
    name: '018 which key made a key',
    statements: [
      "ALTER TABLE access_keys ADD COLUMN IF NOT EXISTS made_by VARCHAR(36) CHARACTER SET ascii NULL COMMENT 'null: made before this was kept'",
    ],
  },
  {
    name: '019 the time by which clean-up deletes',
    statements: [
      `CREATE TABLE IF NOT EXISTS clean_up_clock (
        id TINYINT UNSIGNED PRIMARY KEY,
        last_at DATETIME(3) NOT NULL COMMENT 'what the clock said last',
        trusted_at DATETIME(3) NOT NULL COMMENT 'how far it is believed to have gone on'
      ) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
    ],
  },
];
