import type { Change } from '@oiseau/api';
import type { Logger } from 'pino';
import type { Db } from '../db/database.js';
import {
  albumsOf,
  changesAfter,
  idBefore,
  lastChange,
  resumedFrom,
  sourceOf,
  type StoredChange,
} from './change-repository.js';

/** Poll interval while there are readers, ms. */
const LOOK_MS = 250;
/** Poll interval after a failed query, ms. */
const AWAY_MS = 2000;
/** Rows per query; if there are more, readers are reset. */
const MOST_ROWS = 2000;

/** A subscriber to changes. */
export interface ChangeReader {
  /** @param id of the last of them; a reader that knows it may resume from there */
  changed(id: number, changes: readonly Change[]): void;
  /** Some were missed: everything must be asked for again. */
  reset(id: number): void;
}

/** Where a reader begins: behind an event that it knows, or with what has changed lately. */
export interface Start {
  readonly after?: number | undefined;
  /** ms */
  readonly within?: number | undefined;
}

interface Since {
  readonly last: number;
  /** Some are not kept any more. */
  readonly missed: boolean;
  readonly changes: readonly Change[];
}

/**
 * Reports changes in the database to readers, whichever process or machine made them. Without readers it doesn't poll.
 * Rows of transactions that end late have lower ids than others that were told already: the last ten seconds are looked through
 * again each time.
 */
export class ChangeFeed {
  readonly #readers = new Set<ChangeReader>();
  #timer: ReturnType<typeof setTimeout> | undefined;
  /** Up to here everything was told. */
  #floor = 0;
  /** Ids above the floor that were told. */
  readonly #told = new Set<number>();
  /** Of the last row that was told. */
  #last = 0;

  constructor(
    private readonly db: Db,
    private readonly log: Logger,
  ) {}

  /** Catches a reader up, then tells it whatever changes. @returns the way to end it */
  async subscribe(reader: ChangeReader, start: Start): Promise<() => void> {
    const now = await lastChange(this.db);
    if (this.#readers.size === 0) {
      this.#told.clear();
      this.#floor = now;
      this.#last = now;
      this.#lookSoon();
    }
    // Before its past is read, so that nothing falls between; what is told twice does no harm.
    this.#readers.add(reader);
    const leave = (): void => {
      this.#readers.delete(reader);
      if (this.#readers.size === 0) clearTimeout(this.#timer);
    };
    try {
      const { last, missed, changes } = await this.since(start, now);
      if (missed) reader.reset(last);
      else if (changes.length > 0) reader.changed(last, changes);
    } catch (error) {
      leave();
      throw error;
    }
    return leave;
  }

  /** What has changed since a reader knew of. @param now the newest id that it is told of at the least */
  async since({ after, within }: Start, now?: number): Promise<Since> {
    const last = now ?? (await lastChange(this.db));
    const from =
      after !== undefined
        ? await resumedFrom(this.db, after)
        : within !== undefined
          ? await idBefore(this.db, within)
          : last;
    const rows = from === null ? [] : await changesAfter(this.db, from, MOST_ROWS);
    if (from === null || rows.length === MOST_ROWS) return { last, missed: true, changes: [] };
    const changes = await this.#worded(rows);
    return { last: Math.max(last, rows.at(-1)?.id ?? 0), missed: false, changes };
  }

  #lookSoon(ms = LOOK_MS): void {
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => void this.#look(), ms);
    this.#timer.unref();
  }

  async #look(): Promise<void> {
    let next = LOOK_MS;
    try {
      const rows = await changesAfter(this.db, this.#floor, MOST_ROWS);
      if (rows.length === MOST_ROWS) await this.#beginAnew();
      else await this.#tell(rows);
    } catch (error) {
      // A database that is away for a moment: what changes meanwhile stands there when it is back.
      this.log.warn({ err: error }, 'changes could not be read');
      next = AWAY_MS;
    }
    if (this.#readers.size > 0) this.#lookSoon(next);
  }

  async #tell(rows: readonly StoredChange[]): Promise<void> {
    const fresh = rows.filter(({ id }) => !this.#told.has(id));
    const worded = await this.#worded(fresh);
    for (const { id } of fresh) this.#told.add(id);
    this.#floor = rows.findLast(({ settled }) => settled)?.id ?? this.#floor;
    for (const id of this.#told) if (id <= this.#floor) this.#told.delete(id);
    this.#last = Math.max(this.#last, fresh.at(-1)?.id ?? 0);
    if (worded.length > 0) for (const reader of this.#readers) reader.changed(this.#last, worded);
  }

  async #beginAnew(): Promise<void> {
    this.#floor = await lastChange(this.db);
    this.#last = this.#floor;
    this.#told.clear();
    for (const reader of this.#readers) reader.reset(this.#floor);
  }

  /** Rows as readers are told them, each once; of an album the newest version. */
  async #worded(rows: readonly StoredChange[]): Promise<Change[]> {
    const subjects = new Map<string, Set<string>>();
    for (const { what, subject } of rows) subjects.set(what, (subjects.get(what) ?? new Set()).add(subject));
    const changes = new Map<string, Change>();
    for (const [what, named] of subjects) {
      const source = sourceOf(what);
      if (!source) continue;
      const albums = source.albums ? await albumsOf(this.db, source.albums, [...named]) : null;
      for (const row of rows.filter((each) => each.what === what))
        for (const album of albums ? (albums.get(row.subject) ?? []) : [null])
          changes.set(`${source.topic} ${album}`, { topic: source.topic, album, version: row.version });
    }
    return [...changes.values()];
  }
}
