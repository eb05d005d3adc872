import { setTimeout as sleep } from 'node:timers/promises';
import type { Logger } from 'pino';
import { pcmInfo } from '@oiseau/api';
import type { MasterFacts } from '@oiseau/album/model';
import type { Database, Db } from '../db/database.js';
import { fromJsonOr } from '../db/json.js';
import type { ComputePool, Listing } from '../http/compute-pool.js';

/** Albums that are indexed in one transaction. */
const BATCH = 20;
/** A list waits at most this long for albums that changed; the rest is indexed while the list is shown. */
const PATIENCE_MS = 250;

interface Stale {
  readonly id: string;
  readonly version: number;
  readonly document: string;
}

/**
 * Keeps the columns that lists read (title, length, ISRCs …) up to date with the albums' documents. An album's `listed_version` says which
 * version its columns describe, so no way of saving an album can forget them. Documents are read in a thread, in batches, newest first.
 */
export class ShelfIndex {
  #run: Promise<void> | undefined;

  constructor(
    readonly db: Database,
    readonly pool: Pick<ComputePool, 'listings'>,
    readonly log?: Logger,
  ) {}

  /**
   * Indexes changed albums: waits for a few, lets many go on in the background. Concurrent calls share one run.
   * @param patienceMs Infinity: until all are indexed
   */
  async refresh(patienceMs = PATIENCE_MS): Promise<void> {
    const until = performance.now() + patienceMs;
    while ((await this.remaining()) > 0) {
      const left = until - performance.now();
      if (left <= 0) return;
      this.#run ??= this.#indexAll().finally(() => (this.#run = undefined));
      const run = this.#run;
      if (patienceMs === Infinity) await run;
      else await Promise.race([run, sleep(left)]);
    }
  }

  /** Sets the indexing of changed albums going. It never rejects: lists tell what is wrong with the database. */
  async refreshUnasked(): Promise<void> {
    await this.refresh().catch((error: unknown) => {
      this.log?.error({ err: error }, 'albums could not be indexed');
    });
  }

  /** Albums whose columns are not up to date. */
  remaining(): Promise<number> {
    return this.db.one((row) => Number(row.count), `SELECT COUNT(*) AS count FROM albums WHERE ${STALE}`);
  }

  async #indexAll(): Promise<void> {
    try {
      for (;;) {
        const batch = await this.#nextBatch();
        if (batch.length === 0) return;
        await this.#index(batch);
      }
    } catch (error) {
      // Lists show what they know; the next one tries again.
      this.log?.error({ err: error }, 'albums could not be indexed');
      await sleep(PATIENCE_MS);
    }
  }

  #nextBatch(): Promise<Stale[]> {
    return this.db.many(
      (row) => ({ id: String(row.id), version: Number(row.version), document: String(row.document) }),
      `SELECT id, version, document FROM albums WHERE ${STALE} ORDER BY updated_at DESC LIMIT ${BATCH}`,
    );
  }

  async #index(batch: readonly Stale[]): Promise<void> {
    const documents = batch.map(({ document }) => document);
    const facts = await factsOfAlbums(
      this.db,
      batch.map(({ id }) => id),
    );
    let listings = await this.pool.listings(documents, facts);
    // A master that only an earlier revision has linked.
    const unknown = [...new Set(listings.flatMap(({ unknownMasters }) => unknownMasters))];
    if (unknown.length > 0) {
      const more = await factsOfMasters(this.db, unknown);
      if (more.size > 0) listings = await this.pool.listings(documents, new Map([...facts, ...more]));
    }
    await this.db.transaction(async (db) => {
      for (const [i, { id, version }] of batch.entries()) {
        const listing = listings[i];
        if (listing) await store(db, id, version, listing);
      }
    });
  }
}

const STALE = '(listed_version IS NULL OR listed_version <> version)';

/** Writes the columns of one album, unless it was saved again meanwhile. */
async function store(db: Db, id: string, version: number, listing: Listing): Promise<void> {
  const { changed } = await db.execute(
    `UPDATE albums SET listed_version = version, title = ?, performer = ?, artwork = ?, tracks = ?, frames = ?, damaged = ?,
     updated_at = updated_at WHERE id = ? AND version = ?`,
    [
      ...[listing.title, listing.performer, listing.artwork],
      ...[listing.tracks, listing.frames, listing.damaged, id, version],
    ],
  );
  if (changed === 0) return;
  await db.execute('DELETE FROM album_isrcs WHERE album_id = ?', [id]);
  if (listing.isrcs.length === 0) return;
  await db.execute(
    `INSERT INTO album_isrcs (album_id, isrc) VALUES ${listing.isrcs.map(() => '(?, ?)').join(', ')}`,
    listing.isrcs.flatMap((isrc) => [id, isrc]),
  );
}

const placeholders = (values: readonly unknown[]): string => values.map(() => '?').join(', ');

async function factsFrom(db: Db, sql: string, values: readonly string[]): Promise<Map<string, MasterFacts>> {
  const rows = await db.many(
    (row) => [String(row.sha256), fromJsonOr(pcmInfo, row.info, null)] as const,
    sql,
    values,
  );
  return new Map(
    rows.map(([sha256, info]) => [sha256, { rate: info?.rate ?? 44_100, length: info?.length ?? 0 }]),
  );
}

const factsOfAlbums = (db: Db, ids: readonly string[]): Promise<Map<string, MasterFacts>> =>
  factsFrom(
    db,
    `SELECT DISTINCT m.sha256, m.info FROM album_masters a JOIN masters m ON m.sha256 = a.sha256 WHERE a.album_id IN (${placeholders(ids)})`,
    ids,
  );

const factsOfMasters = (db: Db, keys: readonly string[]): Promise<Map<string, MasterFacts>> =>
  factsFrom(db, `SELECT sha256, info FROM masters WHERE sha256 IN (${placeholders(keys)})`, keys);
