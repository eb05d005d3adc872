import type { Connection as StreamingConnection } from 'mysql2';
import mysql, {
  type Pool,
  type PoolConnection,
  type ResultSetHeader,
  type RowDataPacket,
} from 'mysql2/promise';
import { noteOfDatabase } from './away.js';
import { againWhereLocked } from './locked.js';

/** Where MariaDB is reached. */
export interface DatabaseSettings {
  /** The socket of a database on this machine; or else `host`. */
  readonly socketPath?: string;
  readonly host?: string;
  readonly port?: number;
  /** How it is told that it is the right one; left out, nothing is encrypted. */
  readonly ssl?: { readonly ca?: string };
  readonly user: string;
  readonly password: string;
  readonly database: string;
}

export type SqlValue = string | number | boolean | null | Date | Buffer;
/** Makes a value of a row. Text from people only ever travels in a query’s values, never in its SQL. */
export type Parse<T> = (row: Record<string, unknown>) => T;

/** A query found another number of rows than its caller can live with. */
export class RowCountError extends Error {
  override readonly name = 'RowCountError';
}

/** What repositories ask for: the pool as a whole, or one connection inside a transaction. */
export interface Db {
  /** Exactly one row. @throws RowCountError */
  one<T>(parse: Parse<T>, sql: string, values?: readonly SqlValue[]): Promise<T>;
  /** One row or none. @throws RowCountError when there are more */
  maybeOne<T>(parse: Parse<T>, sql: string, values?: readonly SqlValue[]): Promise<T | undefined>;
  many<T>(parse: Parse<T>, sql: string, values?: readonly SqlValue[]): Promise<T[]>;
  /** Changes rows; gives how many and the new row's number, if there is one. */
  execute(sql: string, values?: readonly SqlValue[]): Promise<{ changed: number; insertId: number }>;
}

/** Query timeout, ms. */
const PATIENCE_MS = 10_000;
const NO_LIMIT = Infinity;

class Queries implements Db {
  /** @param timeout milliseconds that a query may take */
  constructor(
    readonly target: Pool | PoolConnection,
    readonly timeout = PATIENCE_MS,
  ) {}

  get #limits(): { timeout?: number } {
    return this.timeout === NO_LIMIT ? {} : { timeout: this.timeout };
  }

  async many<T>(parse: Parse<T>, sql: string, values: readonly SqlValue[] = []): Promise<T[]> {
    const [rows] = await this.target
      .execute<RowDataPacket[]>({ sql, ...this.#limits }, [...values])
      .catch(noteOfDatabase);
    return rows.map(parse);
  }
  async maybeOne<T>(parse: Parse<T>, sql: string, values: readonly SqlValue[] = []): Promise<T | undefined> {
    const rows = await this.many(parse, sql, values);
    if (rows.length > 1) throw new RowCountError(`${rows.length} rows instead of at most one: ${sql}`);
    return rows[0];
  }
  async one<T>(parse: Parse<T>, sql: string, values: readonly SqlValue[] = []): Promise<T> {
    const row = await this.maybeOne(parse, sql, values);
    if (row === undefined) throw new RowCountError(`No row where one was due: ${sql}`);
    return row;
  }
  async execute(
    sql: string,
    values: readonly SqlValue[] = [],
  ): Promise<{ changed: number; insertId: number }> {
    const [result] = await this.target
      .execute<ResultSetHeader>({ sql, ...this.#limits }, [...values])
      .catch(noteOfDatabase);
    return { changed: result.affectedRows, insertId: result.insertId };
  }
}

/** The database at one moment, to be read from end to end. */
export class Snapshot extends Queries {
  constructor(readonly connection: PoolConnection) {
    super(connection, NO_LIMIT);
  }

  /** The tables, by name. */
  tables(): Promise<string[]> {
    return this.many(
      (row) => String(row.name),
      "SELECT TABLE_NAME AS name FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE() AND TABLE_TYPE = 'BASE TABLE' ORDER BY 1",
    );
  }

  /** Every row of a table, one after the other: never more than a few are in memory. @param table a name that `tables` gave */
  async *rows(table: string): AsyncGenerator<Record<string, unknown>> {
    // Behind the promises stands the connection that can stream; its types do not say so.
    const core = this.connection.connection as unknown as StreamingConnection;
    try {
      yield* core.query('SELECT * FROM ??', [table]).stream({ highWaterMark: 8 });
    } catch (error) {
      noteOfDatabase(error);
    }
  }
}

export class Database extends Queries {
  private constructor(readonly pool: Pool) {
    super(pool);
  }

  static connect(settings: DatabaseSettings): Database {
    return new Database(
      mysql.createPool({
        ...settings,
        // Idle connections may be cut on the way.
        enableKeepAlive: true,
        connectionLimit: 8,
        connectTimeout: PATIENCE_MS,
        charset: 'utf8mb4_bin',
        timezone: 'Z',
        supportBigNumbers: true,
      }),
    );
  }

  /**
   * Runs `work` in a transaction: committed when it resolves, rolled back when it throws. Where another was in its way it is run again from
   * its beginning, so it changes nothing but the database.
   */
  transaction<T>(work: (db: Db) => Promise<T>): Promise<T> {
    return againWhereLocked(() => this.#transactionOnce(work));
  }

  async #transactionOnce<T>(work: (db: Db) => Promise<T>): Promise<T> {
    const connection = await this.pool.getConnection().catch(noteOfDatabase);
    try {
      await connection.beginTransaction().catch(noteOfDatabase);
      const result = await work(new Queries(connection));
      await connection.commit().catch(noteOfDatabase);
      return result;
    } catch (error) {
      // A rollback that fails as well must not hide why it was needed; the connection is of no use any more.
      await connection.rollback().catch(() => connection.destroy());
      throw error;
    } finally {
      connection.release();
    }
  }

  /** Runs `work` without the time limit of a query: for long scans in the background. */
  async patiently<T>(work: (db: Db) => Promise<T>): Promise<T> {
    return work(new Queries(this.pool, NO_LIMIT));
  }

  /** Runs `work` on the database as it stands at this moment, whatever others write meanwhile. */
  async snapshot<T>(work: (snapshot: Snapshot) => Promise<T>): Promise<T> {
    const connection = await this.pool.getConnection().catch(noteOfDatabase);
    try {
      await connection.query('SET TRANSACTION ISOLATION LEVEL REPEATABLE READ').catch(noteOfDatabase);
      await connection.query('START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY').catch(noteOfDatabase);
      return await work(new Snapshot(connection));
    } finally {
      // A connection in the middle of a stream can't be used again.
      connection.destroy();
    }
  }

  /** Runs `work` on one connection that holds a named lock of the server. @throws Error when another holds it too long */
  async locked<T>(name: string, seconds: number, work: (db: Db) => Promise<T>): Promise<T> {
    const connection = await this.pool.getConnection().catch(noteOfDatabase);
    // What needs a lock of the whole server (a migration) takes its time.
    const db = new Queries(connection, NO_LIMIT);
    try {
      const got = await db.one((row) => row.got, 'SELECT GET_LOCK(?, ?) AS got', [name, seconds]);
      if (got !== 1) throw new Error(`Another process holds the lock “${name}”.`);
      try {
        return await work(db);
      } finally {
        await db.one((row) => row.done, 'SELECT RELEASE_LOCK(?) AS done', [name]);
      }
    } finally {
      connection.release();
    }
  }

  close(): Promise<void> {
    return this.pool.end();
  }
}
